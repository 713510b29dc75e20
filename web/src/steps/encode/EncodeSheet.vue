<script setup lang="ts">
import { computed, ref } from "vue";
import { useRouter } from "vue-router";

import { addresses, api, type Clip } from "../../api/client";
import { useSentences } from "../../parts/sentences";
import { useClip } from "../../playback/clip";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";
import ClipCard from "./ClipCard.vue";
import EncodePanel from "./EncodePanel.vue";
import { around, provideEncoding } from "./encoding";
import { perSecond } from "../../parts/choices";

const shot = useShot();
const clip = useClip();
const router = useRouter();
const { refused } = useSentences();
const panel = ref<InstanceType<typeof EncodePanel>>();
const ready = computed(() => shot.shot!.gathered && shot.count > 0);

provideEncoding({
  owner: computed(() => ({ kind: "shots", id: shot.shot!.id })),
  encode: computed(() => shot.decisions!.encode),
  revision: computed(() => shot.revision),
  isReady: ready,
  decide: (change) => shot.decide({ encode: change }),
  begin: (wish) => shot.encode(wish),
});

/** What a trial takes: the stretch that is chosen on the tail, or two seconds around the frame that is looked at. */
const stretch = computed(() => {
  const frames = clip.playback?.frames ?? 0;
  if (frames < 2) return undefined;
  if (shot.stretch) {
    const [first, last] = [clip.frameOf(shot.stretch.first), clip.frameOf(shot.stretch.last)];
    return { first: Math.min(first, last), end: Math.max(first, last) + 1, words: "the chosen stretch" };
  }
  return around(clip.frame, frames, perSecond(clip.playback!.rate));
});

/** A reel of this shot alone: there it gets what lies over and under it. */
async function addSoundOrTitle(): Promise<void> {
  try {
    const made = await api.addReelOfShot(shot.shot!.id);
    await router.push({ name: "reel", params: { reel: made.id, tab: "sound" } });
  } catch (error) {
    refused(error);
  }
}

/** Which clips would be others by now: asked when what is decided rests, and after each clip. */
const changes = useDerived("clip changes", (of) => api.clipChanges(of.shot), {
  every: 800,
  also: () => shot.clips.map((one) => one.id).join(),
  wanted: () => shot.clips.length > 0,
});

async function makeAnew(one: Clip): Promise<void> {
  try {
    await shot.makeAnew(one.id);
  } catch (error) {
    refused(error);
  }
}

function play(one: Clip): void {
  shot.compared = undefined;
  shot.played = one;
}

defineExpose({ mainAction: () => void panel.value?.encodeAll() });
</script>

<template>
  <div class="sheet-column">
    <EncodePanel ref="panel" what="clip" :stretch="stretch">
      <template #hint>
        <p v-if="!ready && !shot.shot!.gathered" class="quiet">Waits until all stills are gathered.</p>
      </template>
    </EncodePanel>
    <section>
      <p class="acts">
        <button type="button" class="plain-button" :disabled="!ready" @click="addSoundOrTitle">
          add sound or a title
        </button>
        <RouterLink :to="{ name: 'shot', params: { shot: shot.shot!.id, step: 'order' }, query: { part: 'pictures' } }"
          >numbered pictures for another program</RouterLink
        >
        <a :href="addresses.shotFile(shot.shot!.id)" :download="`${shot.shot!.name}.json`"
          >save it for the command line</a
        >
      </p>
    </section>
    <section v-if="shot.clips.length" aria-label="Clips">
      <ClipCard
        v-for="one in shot.clips"
        :key="one.id"
        :clip="one"
        :others="shot.clips"
        :changed="changes?.find((change) => change.clip_id === one.id)"
        @play="play(one)"
        @compare="shot.compared = $event"
        @gone="shot.open(shot.shot!.id)"
        @anew="makeAnew(one)"
      />
    </section>
  </div>
</template>

<style src="../sheet.css"></style>
