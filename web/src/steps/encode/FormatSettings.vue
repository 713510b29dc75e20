<script setup lang="ts">
import InputText from "primevue/inputtext";
import Select from "primevue/select";
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import AimControl from "./AimControl.vue";
import { useEncoding } from "./encoding";

const { choices, encode, format, decide } = useEncoding();
const isVideo = computed(() => format.value?.way === "joined");
const isDeepVideo = computed(() => isVideo.value && (format.value?.depth ?? 8) > 8);
const container = computed(() => {
  const offered = format.value?.containers ?? [];
  return offered.find((one) => one === encode.value.container) ?? offered[0];
});
const efforts = [
  { effort: "fast", words: "little: a larger file, soon" },
  { effort: "medium", words: "usual" },
  { effort: "slow", words: "much: a smaller file, later" },
];
const ranges = [
  { range: "standard", words: "standard (BT.709)" },
  { range: "hlg", words: "high, HLG (BT.2020)" },
  { range: "pq", words: "high, PQ (BT.2020)" },
];
const profiles = ["sRGB", "Display P3", "opRGB", "ROMM RGB"];
</script>

<template>
  <div class="settings">
    <label class="field"
      ><span>format</span
      ><Select
        :model-value="encode.format"
        :options="choices?.formats"
        option-label="title"
        option-value="name"
        aria-label="Format"
        fluid
        @update:model-value="decide({ format: $event, container: null })"
    /></label>
    <p class="quiet takers">for {{ format?.takers }}</p>
    <label v-if="(format?.containers.length ?? 0) > 1" class="field"
      ><span>in a file of the kind</span
      ><Select
        :model-value="container"
        :options="format!.containers.map((kind) => ({ kind, words: kind.toUpperCase() }))"
        option-label="words"
        option-value="kind"
        aria-label="Kind of file"
        fluid
        @update:model-value="decide({ container: $event })"
    /></label>
    <AimControl />
    <label v-if="format?.has_quality && isVideo" class="field"
      ><span>effort</span
      ><Select
        :model-value="encode.preset"
        :options="efforts"
        option-label="words"
        option-value="effort"
        aria-label="Effort"
        fluid
        @update:model-value="decide({ preset: $event })"
    /></label>
    <label v-if="isDeepVideo" class="field"
      ><span>brightness</span
      ><Select
        :model-value="encode.range"
        :options="ranges"
        option-label="words"
        option-value="range"
        aria-label="Range of brightness"
        fluid
        @update:model-value="decide({ range: $event })"
    /></label>
    <template v-if="format?.way === 'numbered'">
      <label v-if="format.name !== 'exr'" class="field"
        ><span>colour profile</span
        ><Select
          :model-value="encode.profile"
          :options="profiles"
          aria-label="Colour profile"
          fluid
          @update:model-value="decide({ profile: $event })"
      /></label>
      <NumberField
        v-if="format.name !== 'exr'"
        label="pixels per inch"
        :value="encode.ppi"
        :min="1"
        :max="10000"
        @change="decide({ ppi: $event })"
      />
    </template>
    <template v-if="isVideo">
      <label class="field"
        ><span>title in the file</span
        ><InputText
          :model-value="encode.title"
          maxlength="200"
          aria-label="Title in the file"
          @change="decide({ title: ($event.target as HTMLInputElement).value })"
      /></label>
      <label class="field"
        ><span>comment in the file</span
        ><InputText
          :model-value="encode.comment"
          maxlength="1000"
          aria-label="Comment in the file"
          @change="decide({ comment: ($event.target as HTMLInputElement).value })"
      /></label>
      <label v-if="container === 'mov' || container === 'mxf'" class="field"
        ><span>timecode begins at</span
        ><InputText
          :model-value="encode.start"
          class="number"
          maxlength="11"
          aria-label="Timecode begins at"
          @change="decide({ start: ($event.target as HTMLInputElement).value.trim() })"
      /></label>
    </template>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  gap: 0.5rem;
  padding-top: 0.5rem;
}

.field {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 9.5rem 1fr;
}

.takers {
  margin: -0.2rem 0 0.2rem 10.1rem;
}
</style>
