<script setup lang="ts">
import { computed } from "vue";

import { api } from "../../api/client";
import { useReadOnWish } from "../../api/queries";
import { frameLooks, guideNames, useFrames, withouts, type FrameMode, type Guide } from "../frames";
import type { StepStage } from "../stepStage";
import { useShot } from "../../stores/shot";

const props = defineProps<{ own: StepStage }>();
const emit = defineEmits<{ full: [] }>();

const shot = useShot();
const frames = useFrames();
const looks = computed(() => props.own.looks ?? (["frame", "three"] as const));
const guides = Object.keys(guideNames) as Guide[];
const { answer: revisions, ask: list } = useReadOnWish(() => ({
  key: ["shot", shot.shot?.id ?? 0, "revisions"],
  query: () => api.revisions(shot.shot!.id),
  wanted: shot.shot !== undefined,
}));
const earlier = computed(() => revisions.value?.filter((one) => one.number < shot.revision) ?? []);

function compare(mode: FrameMode): void {
  frames.show(frames.mode === mode ? "frame" : mode);
}

const { answer: project, ask: listShots } = useReadOnWish(() => ({
  key: ["project", shot.shot?.project_id ?? 0],
  query: () => api.project(shot.shot!.project_id),
  wanted: shot.shot !== undefined,
}));
const otherShots = computed(
  () =>
    project.value?.shots.filter((one) => one.id !== shot.shot?.id && one.stills) ??
    // The one that is chosen is named before the others are known.
    (frames.otherShot ? [frames.otherShot] : []),
);
const chosen = computed(() => (frames.otherShot ? `shot ${frames.otherShot.id}` : (frames.against ?? "last")));

function offer(): void {
  list();
  listShots();
}

async function choose(value: string): Promise<void> {
  const other = otherShots.value.find((one) => `shot ${one.id}` === value);
  if (!other) return frames.compareWith(withouts.find((one) => one === value) ?? (Number(value) || undefined));
  const { revision } = await api.shot(other.id);
  frames.compareWith({ id: other.id, name: other.name, revision });
}

function ago(made: string): string {
  return new Date(`${made.replace(" ", "T")}`).toLocaleTimeString("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    second: "2-digit",
  });
}
</script>

<template>
  <div class="view-modes" role="toolbar" aria-label="How to look at the frame">
    <span class="group">
      <button
        v-for="name in looks"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="frames.mode === name"
        @click="frames.show(name)"
      >
        {{ (name === "around" && own.around?.().words) || frameLooks[name] }}
      </button>
    </span>
    <span v-if="own.guides?.() ?? true" class="group">
      <span class="quiet">guides:</span>
      <button
        v-for="name in guides"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="frames.guides.includes(name)"
        @click="frames.toggleGuide(name)"
      >
        {{ guideNames[name] }}
      </button>
    </span>
    <span class="group">
      <button
        type="button"
        class="plain-button"
        title="Z: at the pointer"
        :aria-pressed="frames.real !== undefined"
        @click="frames.real = frames.real ? undefined : { x: 0.5, y: 0.5 }"
      >
        real pixels
      </button>
    </span>
    <component :is="own.bar" v-if="own.bar" />
    <span class="group">
      <span class="quiet">against</span>
      <select
        aria-label="What to compare with"
        :value="chosen"
        @focus="offer"
        @pointerenter="offer"
        @change="choose(($event.target as HTMLSelectElement).value)"
      >
        <option value="last">the one before</option>
        <option v-for="one in withouts" :key="one" :value="one">without {{ one }}</option>
        <option v-for="one in earlier" :key="one.number" :value="one.number">
          {{ one.number }} · {{ ago(one.created_at) }} · {{ one.version ? `${one.version} · ` : "" }}{{ one.changed }}
        </option>
        <optgroup v-if="otherShots.length" label="another shot">
          <option v-for="one in otherShots" :key="one.id" :value="`shot ${one.id}`">{{ one.name }}</option>
        </optgroup>
      </select>
      <button type="button" class="plain-button" :aria-pressed="frames.mode === 'split'" @click="compare('split')">
        split
      </button>
      <button type="button" class="plain-button" :aria-pressed="frames.mode === 'pair'" @click="compare('pair')">
        side by side
      </button>
      <select
        v-if="frames.mode === 'split' || frames.mode === 'pair'"
        v-model="frames.inStep"
        aria-label="What both show at a time while they play"
      >
        <option v-if="!frames.otherShot" value="still">at the same still</option>
        <option value="share">as far through</option>
        <option v-if="frames.otherShot" value="clock">at the same time of day</option>
      </select>
      <button
        type="button"
        class="plain-button"
        title="B"
        :aria-pressed="frames.flipped"
        @click="frames.flipped = !frames.flipped"
      >
        flip
      </button>
      <button type="button" class="plain-button act" title="F; Esc leaves it" @click="emit('full')">full screen</button>
    </span>
  </div>
</template>

<style scoped src="../bar.css"></style>
<style scoped>
select {
  max-width: 9rem;
}
</style>
