<script setup lang="ts">
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";

import { addresses, api, type Clip, type Reel } from "../../api/client";
import { useRead } from "../../api/queries";
import AskFirst from "../../parts/AskFirst.vue";
import SelectField from "../../parts/SelectField.vue";
import { useSentences } from "../../parts/sentences";
import { rates } from "../../parts/choices";
import ClipCard from "../encode/ClipCard.vue";
import EncodePanel from "../encode/EncodePanel.vue";
import { around, provideEncoding } from "../encode/encoding";
import FramesIn from "./FramesIn.vue";
import { useReel } from "./reel";

const reel = useReel();
const router = useRouter();
const { refused } = useSentences();
const deleting = ref(false);
const panel = ref<InstanceType<typeof EncodePanel>>();
const decided = computed(() => reel.decisions!);
const sizes = [
  { words: "1920 × 1080", width: 1920, height: 1080 },
  { words: "3840 × 2160", width: 3840, height: 2160 },
  { words: "1280 × 720", width: 1280, height: 720 },
  { words: "1080 × 1920, upright", width: 1080, height: 1920 },
  { words: "1080 × 1080, square", width: 1080, height: 1080 },
];
const size = computed(
  () => sizes.find(isDecided)?.words ?? `${decided.value.size.width} × ${decided.value.size.height}`,
);
const offered = computed(() =>
  sizes.some(isDecided) ? sizes : [{ words: size.value, ...decided.value.size }, ...sizes],
);
const timings = [
  { timing: "length", words: "keep their length" },
  { timing: "frames", words: "show each frame once" },
] as const;

async function rename(name: string): Promise<void> {
  if (!name.trim()) return;
  try {
    await reel.rename(name.trim());
  } catch (error) {
    refused(error);
  }
}

function fade(change: Partial<Reel["fades"]>): void {
  void reel.decide((now) => ({ fades: { ...now.fades, ...change } }));
}

provideEncoding({
  owner: computed(() => ({ kind: "reels", id: reel.reel!.id })),
  encode: computed(() => decided.value.encode),
  revision: computed(() => reel.revision),
  isReady: computed(() => reel.frames > 0),
  decide: (change) => reel.decide((now) => ({ encode: { ...now.encode, ...change } })),
  begin: (wish) => reel.encode(wish),
});

const stretch = computed(() => (reel.frames < 2 ? undefined : around(reel.frame, reel.frames, reel.rate)));

function play(clip: Clip): void {
  reel.compared = undefined;
  reel.played = clip;
}

async function gone(clip: Clip): Promise<void> {
  if (reel.played?.id === clip.id) reel.played = undefined;
  await reel.open(reel.reel!.id);
}

/** Which files would be others by now: by what is decided about the reel, or about its shots. */
const { answer: changes } = useRead(() => ({
  key: ["reel", reel.reel!.id, "clip changes", reel.revision, reel.clips.map((one) => one.id).join()],
  query: () => api.reelClipChanges(reel.reel!.id),
  wanted: reel.clips.length > 0,
}));

async function makeAnew(clip: Clip): Promise<void> {
  try {
    await reel.makeAnew(clip.id);
  } catch (error) {
    refused(error);
  }
}

async function remove(): Promise<void> {
  try {
    await api.deleteReel(reel.reel!.id);
    await router.push({ name: "project", params: { project: reel.reel!.project_id } });
  } catch (error) {
    refused(error);
  }
}

defineExpose({ mainAction: () => void panel.value?.encodeAll() });

function isDecided(one: { width: number; height: number }): boolean {
  return one.width === decided.value.size.width && one.height === decided.value.size.height;
}

function take(words: string): void {
  const { width, height } = offered.value.find((one) => one.words === words)!;
  void reel.decide(() => ({ size: { width, height } }));
}
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>One form for the whole</h2>
      <label class="field"
        ><span>name</span
        ><InputText
          :model-value="reel.reel!.name"
          maxlength="120"
          aria-label="Name of the reel"
          @change="rename(($event.target as HTMLInputElement).value)"
      /></label>
      <SelectField
        label="size"
        name="Size of the reel"
        :value="size"
        :options="offered"
        by="words"
        words="words"
        @change="take"
      />
      <SelectField
        label="frames per second"
        name="Frames per second"
        :value="decided.rate"
        :options="rates"
        by="rate"
        words="name"
        @change="reel.decide(() => ({ rate: $event }))"
      />
      <SelectField
        label="shots of another rate"
        name="Shots of another rate"
        :value="decided.timing"
        :options="timings"
        by="timing"
        words="words"
        @change="reel.decide(() => ({ timing: $event }))"
      />
    </section>
    <section>
      <h3>Fades of the whole</h3>
      <FramesIn
        label="picture fades in over"
        :frames="decided.fades.picture_in"
        :most="60"
        @change="fade({ picture_in: $event })"
      />
      <FramesIn
        label="picture fades out over"
        :frames="decided.fades.picture_out"
        :most="60"
        @change="fade({ picture_out: $event })"
      />
      <FramesIn
        label="sound fades in over"
        :frames="decided.fades.sound_in"
        :most="60"
        @change="fade({ sound_in: $event })"
      />
      <FramesIn
        label="sound fades out over"
        :frames="decided.fades.sound_out"
        :most="60"
        @change="fade({ sound_out: $event })"
      />
      <label class="field"
        ><span>to</span
        ><input
          type="color"
          :value="decided.fades.colour"
          aria-label="Colour of the fades"
          @change="fade({ colour: ($event.target as HTMLInputElement).value })"
      /></label>
    </section>
    <section>
      <label
        ><input
          type="checkbox"
          :checked="decided.chapters"
          @change="reel.decide(() => ({ chapters: ($event.target as HTMLInputElement).checked }))"
        />
        write the parts as chapters into the file</label
      >
    </section>
    <EncodePanel ref="panel" what="reel" :stretch="stretch" />
    <section v-if="reel.clips.length" aria-label="Finished files">
      <ClipCard
        v-for="clip in reel.clips"
        :key="clip.id"
        :clip="clip"
        :others="reel.clips"
        :changed="changes?.find((change) => change.clip_id === clip.id)"
        @play="play(clip)"
        @compare="reel.compared = $event"
        @gone="gone(clip)"
        @anew="makeAnew(clip)"
      />
    </section>
    <section>
      <h3>To cut it elsewhere</h3>
      <p class="acts">
        <a :href="addresses.reelList(reel.reel!.id, 'otio')" download>OpenTimelineIO</a>
        <a :href="addresses.reelList(reel.reel!.id, 'edl')" download>EDL (CMX 3600)</a>
        <a :href="addresses.reelList(reel.reel!.id, 'vtt')" download>titles as subtitles (WebVTT)</a>
        <a :href="addresses.reelFile(reel.reel!.id)" :download="`${reel.reel!.name}.json`">for the command line</a>
        <a
          v-if="reel.frames"
          :href="addresses.reelFrame(reel.reel!.id, reel.frame, reel.revision, undefined, 3840, false)"
          :download="`${reel.reel!.name}.jpg`"
          >this frame as a poster</a
        >
      </p>
      <p class="acts">
        <button type="button" class="plain-button" @click="deleting = true">delete this reel …</button>
      </p>
    </section>
    <AskFirst v-model="deleting" :question="`Delete “${reel.reel!.name}”?`" yes="Delete the reel" @yes="remove">
      <p>The reel and its finished files go; its shots and sounds stay.</p>
    </AskFirst>
  </div>
</template>

<style src="../sheet.css"></style>
<style scoped src="./detail.css"></style>
