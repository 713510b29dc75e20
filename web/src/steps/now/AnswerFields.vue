<script setup lang="ts">
import { computed } from "vue";

import type { Answers, Proposals } from "../../api/client";
import SizeFields from "./SizeFields.vue";
import { OWN_MUSIC, type Question } from "./now";

/** What is answered with fields: how long, which shape, made better, with words. */
const props = defineProps<{ question: Exclude<Question, "where">; proposals?: Proposals }>();
const answers = defineModel<Answers>({ required: true });
/** A piece of music of one's own. */
const music = defineModel<File>("music");

const offered = computed(() => props.proposals?.shapes ?? [{ name: "16:9", size: { width: 1920, height: 1080 } }]);

/** No file that was chosen means no music. */
function choose(event: Event): void {
  const file = (event.target as HTMLInputElement).files?.[0];
  music.value = file;
  if (!file) answers.value.music = "";
}
</script>

<template>
  <template v-if="question === 'length'">
    <label class="big"
      ><input
        v-model.lazy="answers.length"
        data-first
        :placeholder="proposals?.length ?? 'as it comes'"
        aria-label="How long, such as 12 s"
    /></label>
    <p class="quiet">
      <template v-if="proposals"
        >Each still once at 25 a second gives {{ proposals.length }}. Type another length, or leave it.</template
      >
      <template v-else>Type a length such as 12 s, or leave it to the number of stills.</template>
    </p>
  </template>
  <template v-else-if="question === 'shape'">
    <div class="shapes">
      <label v-for="(one, place) in offered" :key="one.name" class="shape">
        <input
          v-model="answers.size"
          type="radio"
          name="shape"
          :value="one.size"
          :data-first="place === 0 || undefined"
        />
        <span class="outline" :style="{ aspectRatio: `${one.size.width} / ${one.size.height}` }"></span>
        <span
          >{{ one.name }} <small class="quiet">{{ one.size.width }} × {{ one.size.height }}</small></span
        >
      </label>
    </div>
    <SizeFields v-model="answers.size" />
  </template>
  <template v-else-if="question === 'better'">
    <label class="tick"
      ><input v-model="answers.even" type="checkbox" data-first />
      <span
        >even the light<br /><small class="quiet">{{
          proposals?.about_light ?? "Once the stills are gathered it is known whether that helps."
        }}</small></span
      ></label
    >
    <label class="tick"
      ><input v-model="answers.steady" type="checkbox" />
      <span
        >steady the picture<br /><small class="quiet">{{
          proposals?.about_movement ?? "Once the stills are gathered it is known whether that helps."
        }}</small></span
      ></label
    >
  </template>
  <template v-else>
    <label class="line"
      ><span>Title</span><input v-model.lazy="answers.title" data-first maxlength="200" placeholder="none"
    /></label>
    <label class="line"
      ><span>Music</span>
      <select v-model="answers.music">
        <option value="">none</option>
        <option v-for="one in proposals?.music ?? []" :key="one.kind" :value="one.kind">{{ one.name }}</option>
        <option :value="OWN_MUSIC">a file of your own</option>
      </select></label
    >
    <label v-if="answers.music === OWN_MUSIC" class="line"
      ><span>File</span> <input type="file" accept="audio/*,video/*" aria-label="File of the music" @change="choose"
    /></label>
    <p v-if="answers.music === OWN_MUSIC" class="quiet">
      It is brought to the length of the clip: cut where it is quiet, or where its beats are alike.
    </p>
    <p class="quiet">With a title or music the clip becomes a reel of this one shot.</p>
  </template>
</template>

<style scoped>
.big input {
  font-family: var(--mono);
  font-size: var(--type-large);
  width: 100%;
}

.shapes {
  display: grid;
  gap: 0.5rem;
}

.shape {
  align-items: center;
  cursor: pointer;
  display: grid;
  gap: 0.7rem;
  grid-template-columns: auto 64px 1fr;
}

.outline {
  border: 2px solid var(--ink);
  justify-self: center;
  max-width: 60px;
  height: 34px;
}

.shape:has(:checked) .outline {
  background: var(--line-pale);
  border-color: var(--line);
}

.tick {
  cursor: pointer;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: auto 1fr;
}

.line {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 4rem minmax(0, 1fr);
}

.line input {
  min-width: 0;
  width: 100%;
}
</style>
