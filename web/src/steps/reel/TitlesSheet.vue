<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { api, type Title } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { nextId, useReel } from "./reel";
import TitleDetail from "./TitleDetail.vue";
import { newTitle } from "./titles";

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
/** The part that is seen now: a new title is put over it. */
const here = computed(() => reel.parts.findLast((part) => part.frames && part.start <= reel.frame));

function add(kind: Title["kind"], more: Partial<Title> = {}): void {
  const id = nextId(titles.value);
  const title: Title = {
    ...newTitle(id, kind, here.value?.id ?? null, reel.rate),
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
          <TitleDetail v-if="title.id === reel.title" :title="title" />
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
