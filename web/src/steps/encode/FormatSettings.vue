<script setup lang="ts">
import InputText from "primevue/inputtext";
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import SelectField from "../../parts/SelectField.vue";
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
] as const;
const ranges = [
  { range: "standard", words: "standard (BT.709)" },
  { range: "hlg", words: "high, HLG (BT.2020)" },
  { range: "pq", words: "high, PQ (BT.2020)" },
] as const;
const profiles = (["sRGB", "Display P3", "opRGB", "ROMM RGB"] as const).map((profile) => ({ profile }));
</script>

<template>
  <div class="settings">
    <SelectField
      label="format"
      name="Format"
      :value="encode.format"
      :options="choices?.formats ?? []"
      by="name"
      words="title"
      @change="decide({ format: $event, container: null })"
    />
    <p class="quiet takers">for {{ format?.takers }}</p>
    <SelectField
      v-if="(format?.containers.length ?? 0) > 1"
      label="in a file of the kind"
      name="Kind of file"
      :value="container"
      :options="format!.containers.map((kind) => ({ kind, words: kind.toUpperCase() }))"
      by="kind"
      words="words"
      @change="decide({ container: $event })"
    />
    <AimControl />
    <SelectField
      v-if="format?.has_quality && isVideo"
      label="effort"
      name="Effort"
      :value="encode.preset"
      :options="efforts"
      by="effort"
      words="words"
      @change="decide({ preset: $event })"
    />
    <SelectField
      v-if="isDeepVideo"
      label="brightness"
      name="Range of brightness"
      :value="encode.range"
      :options="ranges"
      by="range"
      words="words"
      @change="decide({ range: $event })"
    />
    <p v-if="isDeepVideo && encode.range !== 'standard'" class="quiet">
      Raw stills and stills of high range go beyond white in the file; others, titles and surrounds end at white. This
      page shows the standard range.
    </p>
    <template v-if="format?.way === 'numbered'">
      <SelectField
        v-if="format.name !== 'exr'"
        label="colour profile"
        name="Colour profile"
        :value="encode.profile"
        :options="profiles"
        by="profile"
        words="profile"
        @change="decide({ profile: $event })"
      />
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
  --field-columns: 9.5rem 1fr;

  display: grid;
  gap: 0.5rem;
  padding-top: 0.5rem;
}

.field {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: var(--field-columns);
}

.takers {
  margin: -0.2rem 0 0.2rem 10.1rem;
}
</style>
