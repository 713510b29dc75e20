<script setup lang="ts">
import { computed } from "vue";

import SelectField from "../../parts/SelectField.vue";
import { useShot } from "../../stores/shot";

const shot = useShot();
const fit = computed(() => shot.decisions!.fit);
const strengths = [
  { sharpen: "none", name: "none", hint: "as the lens drew it" },
  { sharpen: "screen", name: "for screens", hint: "gives back what reducing took" },
  { sharpen: "strong", name: "strong", hint: "for soft stills; grain shows too" },
] as const;
</script>

<template>
  <section>
    <h2>Finish</h2>
    <SelectField
      label="sharpening"
      name="Sharpening"
      class="sharpen"
      :value="fit.sharpen"
      :options="strengths"
      by="sharpen"
      hint="hint"
      words="name"
      @change="shot.decide({ fit: { sharpen: $event } })"
    />
    <label
      class="check"
      title="Averages light rather than numbers when stills are reduced. Stars and lamps keep their brightness; it takes longer to encode."
    >
      <input
        type="checkbox"
        :checked="fit.linear"
        @change="shot.decide({ fit: { linear: ($event.target as HTMLInputElement).checked } })"
      />
      keep small lights bright (stars, lamps)
    </label>
  </section>
</template>

<style scoped>
.sharpen {
  --field-columns: auto minmax(0, 1fr);
}

.check {
  align-items: center;
  display: flex;
  gap: 0.5rem;
}
</style>
