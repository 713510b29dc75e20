<script setup lang="ts">
import { computed, shallowRef, watch } from "vue";

import { api, type ProjectDetail, type ReelPart, type ReelPicture, type Version } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import SelectField from "../../parts/SelectField.vue";
import { useAttempt } from "../../parts/sentences";
import FramesIn from "./FramesIn.vue";
import { useReel } from "./reel";

const props = defineProps<{ part: ReelPart; shots: ProjectDetail["shots"]; isLast: boolean }>();

const reel = useReel();
const { refusal, attempt } = useAttempt();
const stills = shallowRef<Record<number, number[]>>({});
const versions = shallowRef<Record<number, Version[]>>({});
const joins = [
  { kind: "cut", words: "at once" },
  { kind: "dissolve", words: "by a dissolve" },
  { kind: "dip", words: "by way of a colour" },
] as const;
const arrangements = [
  { name: "halves", words: "side by side", takes: 2 },
  { name: "stacked", words: "one above the other", takes: 2 },
  { name: "corner", words: "a small one in the corner", takes: 2 },
  { name: "thirds", words: "in thirds", takes: 3 },
  { name: "quarters", words: "in quarters", takes: 4 },
  { name: "free", words: "where I put them", takes: 4 },
] as const;
const afters = [
  { value: "hold", words: "is held" },
  { value: "loop", words: "begins again" },
  { value: "nothing", words: "is gone" },
] as const;
const several = computed(() => props.part.pictures.length > 1);
const fitting = computed(() => arrangements.filter((one) => one.takes >= props.part.pictures.length));
const ofFootage = computed(() => reel.parts.find((one) => one.id === props.part.id)?.shots[0]?.of_footage);
const lasting = computed(() => reel.parts.find((one) => one.id === props.part.id)?.frames ?? 0);

watch(
  () => props.part.pictures.map((one) => one.shot).join(),
  () =>
    void attempt(async () => {
      for (const { shot } of props.part.pictures) {
        if (stills.value[shot]) continue;
        const [found, opened] = await Promise.all([api.stills(shot), api.shot(shot)]);
        stills.value = { ...stills.value, [shot]: found.stills.map((one) => one.id) };
        versions.value = { ...versions.value, [shot]: opened.versions };
      }
    }),
  { immediate: true },
);

function set(change: Partial<ReelPart>): void {
  void reel.decide((now) => ({
    parts: now.parts.map((one) => (one.id === props.part.id ? { ...one, ...change } : one)),
  }));
}

function setPicture(place: number, change: Partial<ReelPicture>): void {
  set({ pictures: props.part.pictures.map((one, at) => (at === place ? { ...one, ...change } : one)) });
}

function place(picture: ReelPicture, id: number | null, otherwise: number): number {
  const found = id === null ? -1 : (stills.value[picture.shot] ?? []).indexOf(id);
  return found < 0 ? otherwise : found + 1;
}

function setEnd(at: number, which: "begin" | "end", number: number): void {
  const ids = stills.value[props.part.pictures[at]!.shot] ?? [];
  const whole = which === "begin" ? number <= 1 : number >= ids.length;
  setPicture(at, { [which]: whole ? null : ids[number - 1]! });
}

function addBeside(shot: number): void {
  const free = { left: 0.55, top: 0.55, width: 0.4, height: 0.4 };
  const picture: ReelPicture = { shot, version: null, begin: null, end: null, wait: 0, after: "hold", area: free };
  const count = props.part.pictures.length + 1;
  const own = arrangements.find((one) => one.name === props.part.arrangement);
  const arrangement =
    own && own.takes >= count ? own.name : count === 2 ? "halves" : count === 3 ? "thirds" : "quarters";
  set({ pictures: [...props.part.pictures, picture], arrangement });
}

function removeBeside(at: number): void {
  const left = props.part.pictures.filter((_, other) => other !== at);
  set({ pictures: left, arrangement: left.length === 1 ? "one" : props.part.arrangement });
}

function setArea(at: number, side: "left" | "top" | "width" | "height", percent: number): void {
  const area = props.part.pictures[at]!.area ?? { left: 0, top: 0, width: 1, height: 1 };
  setPicture(at, { area: { ...area, [side]: percent / 100 } });
}

async function soundOfFootage(): Promise<void> {
  await attempt(async () => {
    await api.soundOfFootage(reel.reel!.id, props.part.id);
  });
}
</script>

<template>
  <div class="detail">
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <div v-for="(picture, at) in part.pictures" :key="at" class="picture">
      <h3 v-if="several">{{ shots.find((one) => one.id === picture.shot)?.name ?? "a shot" }}</h3>
      <SelectField
        v-if="versions[picture.shot]?.length"
        label="version"
        name="Version"
        :value="picture.version"
        :options="[{ id: null, name: 'the one that is open' }, ...versions[picture.shot]!]"
        by="id"
        words="name"
        @change="setPicture(at, { version: $event })"
      />
      <template v-if="stills[picture.shot]?.length">
        <NumberField
          label="from still"
          :value="place(picture, picture.begin, 1)"
          :min="1"
          :max="stills[picture.shot]!.length"
          @change="setEnd(at, 'begin', $event)"
        />
        <NumberField
          label="to still"
          :value="place(picture, picture.end, stills[picture.shot]!.length)"
          :min="1"
          :max="stills[picture.shot]!.length"
          @change="setEnd(at, 'end', $event)"
        />
      </template>
      <template v-if="several">
        <FramesIn label="begins after" :frames="picture.wait" @change="setPicture(at, { wait: $event })" />
        <SelectField
          label="when it is over, it"
          name="When it is over before the others"
          :value="picture.after"
          :options="afters"
          by="value"
          words="words"
          @change="setPicture(at, { after: $event })"
        />
        <template v-if="part.arrangement === 'free'">
          <NumberField
            v-for="side in ['left', 'top', 'width', 'height'] as const"
            :key="side"
            :label="side"
            :value="Math.round(1000 * (picture.area?.[side] ?? (side === 'left' || side === 'top' ? 0 : 1))) / 10"
            :min="side === 'left' || side === 'top' ? 0 : 5"
            :max="100"
            :places="1"
            unit=" %"
            @change="setArea(at, side, $event)"
          />
        </template>
        <p class="acts">
          <button type="button" class="plain-button" @click="removeBeside(at)">take this picture out</button>
        </p>
      </template>
    </div>
    <SelectField
      v-if="several"
      label="they lie"
      name="How they lie beside each other"
      :value="part.arrangement"
      :options="fitting"
      by="name"
      words="words"
      @change="set({ arrangement: $event })"
    />
    <SelectField
      v-if="part.pictures.length < 4"
      name="Put a shot beside it"
      :value="null"
      :options="shots"
      by="id"
      words="name"
      placeholder="put a shot beside it …"
      @change="$event && addBeside($event)"
    />
    <FramesIn v-if="lasting" label="lasts" :frames="lasting" @change="set({ frames: $event || null })" />
    <p v-if="part.frames" class="acts">
      <button type="button" class="plain-button" @click="set({ frames: null })">as long as it is</button>
    </p>
    <template v-if="!isLast">
      <SelectField
        label="goes over into the next"
        name="How it goes over into the next"
        :value="part.join.kind"
        :options="joins"
        by="kind"
        words="words"
        @change="set({ join: { ...part.join, kind: $event } })"
      />
      <FramesIn
        v-if="part.join.kind !== 'cut'"
        label="takes"
        :frames="part.join.frames"
        @change="$event && set({ join: { ...part.join, frames: $event } })"
      />
      <label v-if="part.join.kind === 'dip'" class="field">
        <span>colour</span>
        <input
          type="color"
          :value="part.join.colour"
          aria-label="Colour it goes by"
          @change="set({ join: { ...part.join, colour: ($event.target as HTMLInputElement).value } })"
        />
      </label>
    </template>
    <p v-if="ofFootage" class="acts">
      <button type="button" class="plain-button" @click="soundOfFootage">lay the sound of its film under it</button>
    </p>
  </div>
</template>

<style scoped src="./detail.css"></style>
