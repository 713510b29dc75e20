<script setup lang="ts">
import { refDebounced, useElementSize, useLocalStorage, useScroll } from "@vueuse/core";
import { computed, onMounted, ref, watch } from "vue";

import { addresses, api, type Mending, type Still } from "../api/client";
import { placeIn } from "../parts/drag";
import { useAttempt } from "../parts/sentences";
import RatingSelect from "../parts/RatingSelect.vue";
import { ratingWords } from "../parts/rating";
import { countText } from "../parts/wording";
import { useShot } from "../stores/shot";
import StillFilter from "./StillFilter.vue";
import { useShownStills } from "./shownStills";
import { useStillPicking } from "./stillPicking";
import { useViewModes } from "./viewModes";

/** All stills of a shot in rows, as many as are seen; runs of them are chosen and worked on by mouse or keys. */
const GAP = 8;
const LABEL = 20;
/** Rows that are ready above and below what is seen. */
const READY = 2;
const shot = useShot();
const modes = useViewModes();
const { refusal, attempt } = useAttempt();
const shown = useShownStills();
const { dropAt, pick, isChosen, begin, over, drop, end } = useStillPicking();
const wide = useLocalStorage("thumbnail-width", 160);
const sheet = ref<HTMLElement>();
const { width, height } = useElementSize(sheet);
const { y } = useScroll(sheet);

const columns = computed(() => Math.max(1, Math.floor((width.value - GAP) / (wide.value + GAP))));
/** They share what a row has: no strip stays empty beside them. */
const each = computed(() => Math.max(40, Math.floor((width.value - GAP * (columns.value + 1)) / columns.value)));
const rowHeight = computed(() => Math.round((each.value * 2) / 3) + LABEL + GAP);
const rows = computed(() => Math.ceil(shown.stills.length / columns.value));
const seen = computed(() => {
  const first = Math.max(0, Math.floor(y.value / rowHeight.value) - READY);
  const last = Math.min(rows.value, Math.ceil((y.value + height.value) / rowHeight.value) + READY);
  return {
    top: first * rowHeight.value,
    stills: shown.stills.slice(first * columns.value, last * columns.value),
  };
});
/** What the check found something about. */
const suspects = computed(() => {
  const found = new Map<number, string>();
  for (const one of shot.openFindings)
    if (one.last - one.first < shot.count / 2)
      for (let position = one.first; position <= one.last; position += 1)
        if (!found.has(position)) found.set(position, one.kind);
  return found;
});
const chosenIds = computed(() => shot.chosen.map((still) => still.id));
const words = computed(() =>
  shot.chosen.length > 1 ? countText(shot.chosen.length, "still") : `still ${(shot.current + 1).toLocaleString("en")}`,
);
const isAside = computed(() => shot.chosen.every((still) => shot.aside.has(still.id)));
const rating = computed(() => {
  const every = new Set(shot.chosen.map((still) => shot.ratings.get(still.id) ?? 0));
  return every.size === 1 ? [...every][0] : undefined;
});
const isMended = computed(() => shot.chosen.some((still) => shot.mended.has(still.id)));

/** While it is scrolled fast nobody sees a still: pictures are asked for where it rests, or moves slowly. */
const rested = refDebounced(seen, 60, { maxWait: 240 });
const wanted = computed(() => new Set(rested.value.stills.map((still) => still.id)));

function source(still: Still): string | undefined {
  return wanted.value.has(still.id) ? addresses.thumbnail(shot.shot!.id, still) : undefined;
}

/** Keep the still that is looked at in sight, whether it was chosen here, on the tail or by the check. */
function show(position: number): void {
  if (!sheet.value || !height.value) return;
  const top = Math.floor(shown.placeOf(position) / columns.value) * rowHeight.value;
  if (top < sheet.value.scrollTop) sheet.value.scrollTop = top;
  else if (top + rowHeight.value > sheet.value.scrollTop + height.value)
    sheet.value.scrollTop = top + rowHeight.value + GAP - height.value;
}

function keys(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const page = Math.max(1, Math.floor(height.value / rowHeight.value)) * columns.value;
  const steps: Record<string, number> = {
    ArrowLeft: -1,
    ArrowRight: 1,
    ArrowUp: -columns.value,
    ArrowDown: columns.value,
    PageUp: -page,
    PageDown: page,
    Home: -shot.count,
    End: shot.count,
  };
  const step = steps[event.key];
  if (step !== undefined) pick(shown.from(shot.current, step), event.shiftKey);
  else if (event.key === "Enter") modes.show("one");
  else return;
  event.preventDefault();
  event.stopPropagation();
}

const mend = (how: Mending) => shot.change((id, revision) => api.mend(id, revision, chosenIds.value, how));

const rate = (of: number | null) => shot.change((id, revision) => api.rate(id, revision, chosenIds.value, of));

/** The chosen stills become a shot of their own in this project. */
const splitOff = () =>
  attempt(async () => {
    await api.splitOff(shot.shot!.id, chosenIds.value);
    shot.stretch = undefined;
    await shot.open(shot.shot!.id);
  });

onMounted(() => sheet.value?.focus({ preventScroll: true }));
watch([() => shot.current, columns, rowHeight, height], () => show(shot.current), { immediate: true, flush: "post" });
</script>

<template>
  <div
    class="all"
    :class="{ filtered: shown.hasFilter }"
    :style="{ '--wide': `${each}px`, '--high': `${rowHeight - LABEL - GAP}px`, '--columns': columns }"
  >
    <StillFilter v-if="shown.hasFilter" :shown="shown" />
    <div
      ref="sheet"
      class="sheet-of-stills"
      tabindex="0"
      role="listbox"
      aria-label="All stills"
      aria-multiselectable="true"
      :aria-activedescendant="`still-${shot.current}`"
      @keydown="keys"
    >
      <div class="high" :style="{ height: `${rows * rowHeight + GAP}px` }">
        <div class="rows" :style="{ transform: `translateY(${seen.top}px)` }">
          <button
            v-for="still in seen.stills"
            :id="`still-${still.position}`"
            :key="still.id"
            type="button"
            role="option"
            tabindex="-1"
            draggable="true"
            :aria-selected="isChosen(still.position) || still.position === shot.current"
            :aria-label="`still ${still.position + 1}, ${still.name}`"
            :class="{
              now: still.position === shot.current,
              chosen: isChosen(still.position),
              aside: shot.out.has(still.id),
              'drop-before': dropAt === still.position,
              'drop-after': dropAt === still.position + 1,
            }"
            @click="pick(still.position, $event.shiftKey)"
            @dblclick="modes.show('one')"
            @dragstart="begin($event, still)"
            @dragover="over($event, still, placeIn($event.currentTarget as Element, $event).x > 0.5)"
            @drop.prevent="drop"
            @dragend="end()"
          >
            <img :src="source(still)" alt="" decoding="async" draggable="false" />
            <span class="label number">
              {{ (still.position + 1).toLocaleString("en") }}
              <span
                v-if="shot.ratings.get(still.id) || still.label"
                class="rating"
                :title="still.caption || undefined"
                >{{ ratingWords(shot.ratings.get(still.id) ?? 0, still.label) }}</span
              >
              <span v-if="shot.mended.get(still.id)" class="quiet">{{ shot.mended.get(still.id) }}</span>
              <span v-else-if="shot.out.has(still.id)" class="quiet">{{ still.away ? "away" : "set aside" }}</span>
              <span v-else-if="suspects.has(still.position)" class="mark-warning" :title="suspects.get(still.position)">
                <span class="for-listening">{{ suspects.get(still.position) }}</span>
              </span>
            </span>
          </button>
        </div>
      </div>
    </div>
    <div class="acts" role="toolbar" aria-label="What to do with the chosen stills">
      <strong class="number">{{ words }}</strong>
      <button type="button" class="plain-button" title="X" @click="shot.toggleAside()">
        {{ isAside ? "bring back" : "set aside" }}
      </button>
      <button
        type="button"
        class="plain-button"
        title="Shown as what lies between its neighbours"
        @click="mend('bridged')"
      >
        bridge
      </button>
      <button type="button" class="plain-button" title="The still before is shown again" @click="mend('repeated')">
        repeat
      </button>
      <button v-if="isMended" type="button" class="plain-button" @click="mend('as it is')">as it is</button>
      <button type="button" class="plain-button" :disabled="shot.chosen.length >= shot.count" @click="splitOff">
        a shot of its own
      </button>
      <RatingSelect :rating="rating" @rate="rate" />
      <input
        v-model.number="wide"
        class="size"
        type="range"
        min="80"
        max="320"
        step="20"
        aria-label="Size of the stills"
        title="Size of the stills"
      />
      <span v-if="refusal" class="warning" role="alert">{{ refusal }}</span>
    </div>
  </div>
</template>

<style scoped src="./allStills.css"></style>
