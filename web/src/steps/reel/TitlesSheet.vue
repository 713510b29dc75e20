<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { api, type Title } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import SelectField from "../../parts/SelectField.vue";
import { useAttempt } from "../../parts/sentences";
import FramesIn from "./FramesIn.vue";
import { nextId, useReel } from "./reel";

const reel = useReel();
const { refusal, attempt } = useAttempt();
const titles = computed(() => reel.decisions!.titles);
const picker = ref<HTMLInputElement>();
const kinds = [
  { kind: "text", words: "text" },
  { kind: "clock", words: "a running clock" },
  { kind: "date", words: "the date" },
  { kind: "days", words: "a count of days" },
  { kind: "compression", words: "how time is compressed" },
] as const;
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

/** The part that is seen now: a new title is put over it. */
const here = computed(() => reel.parts.findLast((part) => part.frames && part.start <= reel.frame));

function add(kind: Title["kind"], more: Partial<Title> = {}): void {
  const id = nextId(titles.value);
  const isText = kind === "text";
  const title: Title = {
    ...{
      id,
      part: here.value?.id ?? null,
      kind,
      text: isText ? "Title" : "",
      picture: null,
      face: isText ? "plain" : "typewriter",
      size: isText ? 0.09 : 0.045,
    },
    ...{
      colour: "#ffffff",
      shade: "soft",
      place: isText ? "bottom" : "top right",
      x: 0.5,
      y: 0.5,
      first: 0,
      frames: null,
      fade_in: isText ? Math.round(reel.rate / 2) : 0,
      fade_out: isText ? Math.round(reel.rate / 2) : 0,
    },
    ...more,
  };
  void reel.decide((now) => ({ titles: [...now.titles, title] }));
  reel.title = id;
}

function choose(title: Title): void {
  reel.title = reel.title === title.id ? undefined : title.id;
  const start = reel.parts.find((one) => one.id === title.part)?.start ?? 0;
  reel.pause();
  const ends = title.frames ? start + title.first + title.frames : reel.frames;
  if (reel.frame < start + title.first + title.fade_in || reel.frame >= ends)
    reel.goTo(start + title.first + title.fade_in);
}

function set(id: number, change: Partial<Title>): void {
  void reel.decide(reel.changeTitle(id, change));
}

function remove(id: number): void {
  void reel.decide((now) => ({ titles: now.titles.filter((one) => one.id !== id) }));
}

async function sendLogo(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  if (!file) return;
  await attempt(async () => {
    const logo = await api.sendLogo(reel.reel!.id, file);
    reel.logos = [logo, ...reel.logos];
    add("picture", { picture: logo.id, size: 0.18, place: "top right" });
  });
  input.value = "";
}

const nameOf = (title: Title) => {
  if (title.kind === "text") return title.text.split("\n")[0] || "an empty title";
  if (title.kind === "picture") return reel.logos.find((one) => one.id === title.picture)?.name ?? "a picture";
  return kinds.find((one) => one.kind === title.kind)!.words;
};

defineExpose({ mainAction: () => add("text") });
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>Titles</h2>
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
      <p v-if="!titles.length" class="quiet">
        Nothing lies over the reel yet. What you add is put over the part you see; drag it on the stage, and write in it
        there by a double click.
      </p>
      <ul v-else class="list" aria-label="Titles">
        <li v-for="title in titles" :key="title.id" :class="{ worked: title.id === reel.title }">
          <div class="row">
            <button
              type="button"
              class="plain-button name"
              :aria-expanded="title.id === reel.title"
              @click="choose(title)"
            >
              <strong>{{ nameOf(title) }}</strong>
            </button>
            <button
              type="button"
              class="plain-button act"
              :aria-label="`take out ${nameOf(title)}`"
              @click="remove(title.id)"
            >
              take out
            </button>
          </div>
          <p v-for="sentence in reel.remarksOf('title', title.id)" :key="sentence" class="warning">{{ sentence }}</p>
          <div v-if="title.id === reel.title" class="detail">
            <textarea
              v-if="title.kind !== 'picture'"
              :value="title.text"
              maxlength="600"
              :aria-label="title.kind === 'text' ? 'Text of the title' : 'What stands before it'"
              :placeholder="title.kind === 'text' ? '' : 'what stands before it, if anything'"
              @input="reel.attempt(reel.changeTitle(title.id, { text: ($event.target as HTMLTextAreaElement).value }))"
              @change="reel.settle()"
            ></textarea>
            <SelectField
              label="seen over"
              name="What it hangs on"
              :value="title.part"
              :options="owners"
              by="id"
              words="name"
              @change="set(title.id, { part: $event })"
            />
            <FramesIn label="from, after its begin" :frames="title.first" @change="set(title.id, { first: $event })" />
            <FramesIn
              v-if="title.frames"
              label="for"
              :frames="title.frames"
              @change="set(title.id, { frames: $event || null })"
            />
            <p class="acts">
              <button v-if="title.frames" type="button" class="plain-button" @click="set(title.id, { frames: null })">
                to its end
              </button>
              <button
                v-else
                type="button"
                class="plain-button"
                @click="set(title.id, { frames: Math.round(4 * reel.rate) })"
              >
                for 4 s only
              </button>
            </p>
            <FramesIn
              label="fades in over"
              :frames="title.fade_in"
              :most="60"
              @change="set(title.id, { fade_in: $event })"
            />
            <FramesIn
              label="fades out over"
              :frames="title.fade_out"
              :most="60"
              @change="set(title.id, { fade_out: $event })"
            />
            <NumberField
              :label="title.kind === 'picture' ? 'height, of the frame' : 'size, of the height'"
              :value="Math.round(title.size * 1000) / 10"
              :min="1"
              :max="100"
              :step="0.5"
              :places="1"
              unit=" %"
              @change="set(title.id, { size: $event / 100 })"
            />
            <template v-if="title.kind !== 'picture'">
              <SelectField
                label="typeface"
                name="Typeface"
                :value="title.face"
                :options="faces"
                by="face"
                words="words"
                @change="set(title.id, { face: $event })"
              />
              <SelectField
                label="behind it"
                name="What is behind it"
                :value="title.shade"
                :options="shades"
                by="shade"
                words="words"
                @change="set(title.id, { shade: $event })"
              />
              <label class="field"
                ><span>colour</span
                ><input
                  type="color"
                  :value="title.colour"
                  aria-label="Colour of the title"
                  @input="
                    reel.attempt(reel.changeTitle(title.id, { colour: ($event.target as HTMLInputElement).value }))
                  "
                  @change="reel.settle()"
              /></label>
            </template>
            <SelectField
              label="where"
              name="Where it is"
              :value="title.place"
              :options="[
                { place: null, words: 'where I dragged it' },
                ...places.map((place) => ({ place, words: place })),
              ]"
              by="place"
              words="words"
              @change="set(title.id, { place: $event })"
            />
          </div>
        </li>
      </ul>
      <div><Button label="Add a title" class="main-action" @click="add('text')" /></div>
      <p class="acts">
        <button v-for="one in kinds.slice(1)" :key="one.kind" type="button" class="plain-button" @click="add(one.kind)">
          {{ one.words }}
        </button>
        <button type="button" class="plain-button" @click="picker?.click()">a picture …</button>
      </p>
      <input
        ref="picker"
        type="file"
        accept="image/png,image/jpeg,image/webp"
        hidden
        aria-label="A picture to lay over"
        @change="sendLogo"
      />
    </section>
  </div>
</template>

<style src="../sheet.css"></style>
<style scoped src="./detail.css"></style>
