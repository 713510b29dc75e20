<script setup lang="ts">
import { computed } from "vue";

import type { Title } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import SelectField from "../../parts/SelectField.vue";
import FramesIn from "./FramesIn.vue";
import { useReel } from "./reel";

/** All that is decided about one title. */
const props = defineProps<{ title: Title }>();

const reel = useReel();
const faces = [
  { face: "plain", words: "Plain" },
  { face: "narrow", words: "Narrow and strong" },
  { face: "book", words: "Of a book" },
  { face: "slab", words: "With slabs" },
  { face: "round", words: "Round" },
  { face: "slender", words: "Slender" },
  { face: "typewriter", words: "Typewriter" },
] as const;
const shades = [
  { shade: "none", words: "nothing" },
  { shade: "soft", words: "a soft shade" },
  { shade: "plate", words: "a plate" },
] as const;
const places = [
  "top left",
  "top",
  "top right",
  "left",
  "middle",
  "right",
  "bottom left",
  "bottom",
  "bottom right",
] as const;
const owners = computed(() => [
  { id: null as number | null, name: "the whole reel" },
  ...reel.parts.map((part) => ({
    id: part.id as number | null,
    name: part.shots.map((one) => one.name).join(" beside "),
  })),
]);

const attempt = (change: Partial<Title>) => reel.attempt(reel.changeTitle(props.title.id, change));
const set = (change: Partial<Title>) => void reel.decide(reel.changeTitle(props.title.id, change));
</script>

<template>
  <div class="detail">
    <textarea
      v-if="title.kind !== 'picture'"
      :value="title.text"
      maxlength="600"
      :aria-label="title.kind === 'text' ? 'Text of the title' : 'What stands before it'"
      :placeholder="title.kind === 'text' ? '' : 'what stands before it, if anything'"
      @input="attempt({ text: ($event.target as HTMLTextAreaElement).value })"
      @change="reel.settle()"
    ></textarea>
    <SelectField
      label="seen over"
      name="What it hangs on"
      :value="title.part"
      :options="owners"
      by="id"
      words="name"
      @change="set({ part: $event })"
    />
    <FramesIn label="from, after its begin" :frames="title.first" @change="set({ first: $event })" />
    <FramesIn v-if="title.frames" label="for" :frames="title.frames" @change="set({ frames: $event || null })" />
    <p class="acts">
      <button v-if="title.frames" type="button" class="plain-button" @click="set({ frames: null })">to its end</button>
      <button v-else type="button" class="plain-button" @click="set({ frames: Math.round(4 * reel.rate) })">
        for 4 s only
      </button>
    </p>
    <FramesIn label="fades in over" :frames="title.fade_in" :most="60" @change="set({ fade_in: $event })" />
    <FramesIn label="fades out over" :frames="title.fade_out" :most="60" @change="set({ fade_out: $event })" />
    <NumberField
      :label="title.kind === 'picture' ? 'height, of the frame' : 'size, of the height'"
      :value="Math.round(title.size * 1000) / 10"
      :min="1"
      :max="100"
      :step="0.5"
      :places="1"
      unit=" %"
      @change="set({ size: $event / 100 })"
    />
    <template v-if="title.kind !== 'picture'">
      <SelectField
        label="typeface"
        name="Typeface"
        :value="title.face"
        :options="faces"
        by="face"
        words="words"
        @change="set({ face: $event })"
      />
      <SelectField
        label="behind it"
        name="What is behind it"
        :value="title.shade"
        :options="shades"
        by="shade"
        words="words"
        @change="set({ shade: $event })"
      />
      <label class="field"
        ><span>colour</span
        ><input
          type="color"
          :value="title.colour"
          aria-label="Colour of the title"
          @input="attempt({ colour: ($event.target as HTMLInputElement).value })"
          @change="reel.settle()"
      /></label>
    </template>
    <SelectField
      label="where"
      name="Where it is"
      :value="title.place"
      :options="[{ place: null, words: 'where I dragged it' }, ...places.map((place) => ({ place, words: place }))]"
      by="place"
      words="words"
      @change="set({ place: $event })"
    />
  </div>
</template>

<style scoped src="./detail.css"></style>
