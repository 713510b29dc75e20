<script setup lang="ts">
import Select from "primevue/select";
import { computed } from "vue";

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
    <label class="sharpen">
      <span>sharpening</span>
      <Select
        :model-value="fit.sharpen"
        :options="[...strengths]"
        option-label="name"
        option-value="sharpen"
        aria-label="Sharpening"
        fluid
        @update:model-value="shot.decide({ fit: { sharpen: $event } })"
      >
        <template #option="{ option }"
          ><span class="strength">{{ option.name }}</span
          ><span class="quiet">{{ option.hint }}</span></template
        >
      </Select>
    </label>
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
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: auto minmax(0, 1fr);
}

.strength {
  flex: none;
  width: 6rem;
}

.check {
  align-items: center;
  display: flex;
  gap: 0.5rem;
}
</style>
