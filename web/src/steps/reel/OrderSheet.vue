<script setup lang="ts">
import { computed, ref, watch } from "vue";

import type { ReelPart, ReelPicture } from "../../api/client";
import SelectField from "../../parts/SelectField.vue";
import { useAttempt } from "../../parts/sentences";
import { putAt, useSorting } from "../../parts/sorting";
import { useProject } from "../../stores/project";
import PartDetail from "./PartDetail.vue";
import { nextId, useReel } from "./reel";

const reel = useReel();
const project = useProject();
const { refusal, attempt } = useAttempt();
const parts = computed(() => reel.decisions!.parts);
const spans = computed(() => new Map(reel.parts.map((one) => [one.id, one])));
const shots = computed(() => (project.project?.id === reel.reel!.project_id ? project.project.shots : []));
const list = ref<HTMLElement>();

watch(
  () => reel.reel!.project_id,
  (id) => void attempt(() => project.load(id)),
  { immediate: true },
);

const picture = (shot: number): ReelPicture => ({
  shot,
  version: null,
  begin: null,
  end: null,
  wait: 0,
  after: "hold",
  area: null,
});

function add(shot: number): void {
  const id = nextId(parts.value);
  const part: ReelPart = {
    id,
    pictures: [picture(shot)],
    arrangement: "one",
    frames: null,
    colour: "#000000",
    join: { kind: "cut", frames: Math.round(reel.rate), colour: "#000000" },
  };
  void reel.decide((now) => ({ parts: [...now.parts, part] }));
  reel.part = id;
}

function remove(id: number): void {
  void reel.decide((now) => ({
    parts: now.parts.filter((one) => one.id !== id),
    titles: now.titles.filter((one) => one.part !== id),
  }));
  if (reel.part === id) reel.part = undefined;
}

function choose(id: number): void {
  reel.part = reel.part === id ? undefined : id;
  const span = spans.value.get(id);
  if (span?.frames) {
    reel.pause();
    // Where the one before is gone, if they dissolve into each other.
    const before = reel.parts.filter((one) => one.frames && one.start < span.start).at(-1)?.over ?? 0;
    reel.goTo(span.start + before);
  }
}

const sorting = useSorting(
  list,
  () => parts.value.map((one) => one.id),
  (id, to) => {
    const wanted = (one: ReelPart) => one.id === id;
    void reel.decide((now) => ({ parts: putAt(now.parts, now.parts.find(wanted), to) }));
  },
);

const joinWords = (part: ReelPart) => {
  if (part.join.kind === "cut") return "";
  const seconds = (part.join.frames / reel.rate).toFixed(2).replace(/\.?0+$/, "");
  return part.join.kind === "dissolve" ? `dissolves over ${seconds} s` : `by way of a colour, ${seconds} s`;
};
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>Running order</h2>
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
      <ol v-if="parts.length" ref="list" aria-label="Parts of the reel, first to last">
        <li
          v-for="(part, place) in parts"
          :key="part.id"
          :class="[{ worked: part.id === reel.part }, sorting.stateOf(part.id)]"
        >
          <div class="row" @keydown="sorting.keys($event, part.id)">
            <span
              class="grip"
              title="drag to another place, or Shift ↑ ↓"
              aria-hidden="true"
              @pointerdown="sorting.begin($event, part.id)"
              >⠿</span
            >
            <img :src="`/api/shots/${part.pictures[0]!.shot}/middle.jpg?width=160`" alt="" draggable="false" />
            <button
              type="button"
              class="plain-button name"
              :aria-expanded="part.id === reel.part"
              @click="choose(part.id)"
            >
              <strong>{{
                spans
                  .get(part.id)
                  ?.shots.map((one) => (one.version ? `${one.name}, ${one.version}` : one.name))
                  .join(" beside ")
              }}</strong>
              <span class="quiet"
                >from <span class="number">{{ spans.get(part.id)?.starts }}</span></span
              >
              <span class="quiet"
                >for <span class="number">{{ spans.get(part.id)?.timecode }}</span>,
                {{ spans.get(part.id)?.length }}</span
              >
            </button>
            <button
              type="button"
              class="plain-button act"
              :aria-label="`take out ${spans.get(part.id)?.shots[0]?.name}`"
              @click="remove(part.id)"
            >
              take out
            </button>
          </div>
          <p v-for="sentence in reel.remarksOf('part', part.id)" :key="sentence" class="warning">{{ sentence }}</p>
          <PartDetail v-if="part.id === reel.part" :part="part" :shots="shots" :is-last="place === parts.length - 1" />
          <p v-if="joinWords(part) && place < parts.length - 1" class="join quiet">{{ joinWords(part) }}</p>
        </li>
      </ol>
      <p v-else class="quiet">No shot is in this reel yet. Put the first one in.</p>
      <SelectField
        name="Put a shot into the reel"
        :value="null"
        :options="shots"
        by="id"
        words="name"
        placeholder="put a shot in …"
        @change="add"
      />
      <p class="quiet">The same shot may come twice. Drag a part by its grip, or press Shift ↑ ↓ on it.</p>
    </section>
  </div>
</template>

<style src="../sheet.css"></style>
<style scoped src="./detail.css"></style>
<style scoped>
ol {
  display: grid;
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.3rem;
  padding: 0.45rem 0;
}

li.worked {
  box-shadow: -3px 0 0 var(--line);
}

li.held {
  opacity: 0.45;
}

li.above {
  border-top-color: var(--kite);
}

li.below {
  box-shadow: 0 1px 0 var(--kite);
}

.row {
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: auto 54px minmax(0, 1fr) auto;
}

.grip {
  color: var(--soft-ink);
  cursor: grab;
  padding: 0.4rem 0.2rem;
  touch-action: none;
}

img {
  aspect-ratio: 3 / 2;
  object-fit: cover;
  width: 54px;
}

.join {
  font-style: italic;
  padding-left: 1.6rem;
}
</style>
