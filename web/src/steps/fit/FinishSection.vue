<script setup lang="ts">
import { useTimeout } from "@vueuse/core";
import { computed } from "vue";

import { api } from "../../api/client";
import SelectField from "../../parts/SelectField.vue";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";

const shot = useShot();
const fit = computed(() => shot.decisions!.fit);
/** What small lights lose as they are decided now; it reads whole stills, so it waits until the step stands. */
const stands = useTimeout(2000);
const lights = useDerived("small-lights", (of) => api.smallLights(of.shot, of.revision, of.change), {
  every: 1500,
  wanted: () => stands.value && !fit.value.linear,
});
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
    <p v-if="lights?.sentence" class="warning" role="status">{{ lights.sentence }}</p>
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
