<script setup lang="ts">
import { computed } from "vue";

import SelectField from "../../parts/SelectField.vue";
import { useShot } from "../../stores/shot";
import { blends } from "../../parts/choices";
import NumberField from "../../parts/NumberField.vue";

const shot = useShot();
const pace = computed(() => shot.decisions!.pace);
</script>

<template>
  <div class="blend">
    <SelectField
      name="Between stills"
      :value="pace.blend"
      :options="blends"
      by="blend"
      hint="hint"
      words="name"
      @change="shot.decide({ pace: { blend: $event } })"
    />
    <NumberField
      v-if="pace.blend === 'shutter'"
      label="shutter angle"
      :value="pace.shutter"
      :min="10"
      :max="360"
      :step="10"
      unit="°"
      @change="shot.decide({ pace: { shutter: $event } })"
    />
    <p v-if="pace.blend === 'shutter'" class="quiet">360° averages all stills that a frame skips, 180° half of them.</p>
    <p v-else-if="pace.blend === 'motion'" class="warning">
      Water, leaves and people crossing will tear or smear. Play it before you trust it.
    </p>
  </div>
</template>

<style scoped>
.blend {
  display: grid;
  gap: 0.4rem;
}
</style>
