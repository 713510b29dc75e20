<script setup lang="ts">
import { computed } from "vue";

import type { Planned, PlannedShot } from "../../api/client";
import { numberIn, vShown } from "../../parts/shown";

/** The lens of a planned shot, for how long stars stay points. */
const props = defineProps<{ planned: Planned }>();
const emit = defineEmits<{ keep: [part: (planned: PlannedShot) => Partial<PlannedShot>] }>();

const plan = computed(() => props.planned.planned);

function lens(part: Partial<NonNullable<PlannedShot["lens"]>>): void {
  const usual = { focal_mm: 24, f_number: 2.8, sensor_width_mm: 36, pixels: 6000, declination_deg: 0 };
  emit("keep", (now) => ({ lens: { ...usual, ...now.lens, ...part } }));
}
</script>

<template>
  <section aria-labelledby="lens">
    <h2 id="lens">Lens, for stars</h2>
    <div class="fields">
      <label
        ><span>focal length, mm</span
        ><input
          class="number"
          type="number"
          min="1"
          step="any"
          v-shown="plan.lens?.focal_mm ?? ''"
          placeholder="24"
          @change="lens({ focal_mm: numberIn($event) })"
      /></label>
      <label
        ><span>opening, f/</span
        ><input
          class="number"
          type="number"
          min="0.5"
          step="any"
          v-shown="plan.lens?.f_number ?? ''"
          placeholder="2.8"
          @change="lens({ f_number: numberIn($event) })"
      /></label>
      <label
        ><span>sensor width, mm</span
        ><input
          class="number"
          type="number"
          min="1"
          step="any"
          v-shown="plan.lens?.sensor_width_mm ?? ''"
          placeholder="36"
          @change="lens({ sensor_width_mm: numberIn($event) })"
      /></label>
      <label
        ><span>pixels along it</span
        ><input
          class="number"
          type="number"
          min="100"
          v-shown="plan.lens?.pixels ?? ''"
          placeholder="6000"
          @change="lens({ pixels: numberIn($event) })"
      /></label>
      <label
        ><span>stars' declination, °</span
        ><input
          class="number"
          type="number"
          min="-90"
          max="90"
          step="any"
          v-shown="plan.lens?.declination_deg ?? ''"
          placeholder="0"
          @change="lens({ declination_deg: numberIn($event) })"
      /></label>
    </div>
  </section>
</template>

<style scoped src="./conditions.css"></style>
