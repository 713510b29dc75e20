<script setup lang="ts">
import Select from "primevue/select";
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import { blends } from "../../parts/choices";
import NumberField from "../../parts/NumberField.vue";

const shot = useShot();
const pace = computed(() => shot.decisions!.pace);
</script>

<template>
  <div class="blend">
    <Select
      :model-value="pace.blend"
      :options="[...blends]"
      option-label="name"
      option-value="blend"
      aria-label="Between stills"
      fluid
      @update:model-value="shot.decide({ pace: { blend: $event } })"
    >
      <template #option="{ option }"
        ><span class="name">{{ option.name }}</span
        ><span class="quiet">{{ option.hint }}</span></template
      >
    </Select>
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

.name {
  flex: none;
  width: 8.6rem;
}
</style>
