<script setup lang="ts">
import { useThrottleFn } from "@vueuse/core";
import { computed, nextTick, ref, shallowRef, watch } from "vue";

import { api, type TitleBox } from "../../api/client";
import { nudged, useDrag } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { useReel } from "./reel";

/** The titles of the frame that is looked at: dragged, moved by keys, and written where they are read. */
const reel = useReel();
const root = ref<HTMLElement>();
const boxes = shallowRef<TitleBox[]>([]);
const writing = ref<number>();
const titles = computed(() => new Map(reel.decisions!.titles.map((one) => [one.id, one])));

// Answers may come in another order than they were asked for: an older one never replaces a newer one.
let asked = 0;
const ask = useThrottleFn(
  async () => {
    const question = ++asked;
    const id = reel.reel?.id;
    if (!id || !reel.frames) return;
    const { frame, revision, tried } = reel;
    try {
      const found = await api.titleBoxes(id, frame, revision, tried);
      if (question !== asked) return;
      if (id === reel.reel?.id && frame === reel.frame) boxes.value = found;
      // What was decided while the answer was on its way is asked for too.
      if (revision !== reel.revision || tried !== reel.tried || frame !== reel.frame) void ask();
    } catch {
      if (question !== asked) return;
      boxes.value = [];
      // A revision may have been replaced meanwhile, or the program be busy: it is asked again.
      window.setTimeout(() => question === asked && id === reel.reel?.id && void ask(), 700);
    }
  },
  80,
  true,
);
watch([() => reel.frame, () => reel.revision, () => reel.decisions, () => reel.playback], () => void ask(), {
  immediate: true,
});

const styleOf = (box: TitleBox) => ({
  left: `${100 * box.left}%`,
  top: `${100 * box.top}%`,
  width: `${100 * box.width}%`,
  height: `${100 * box.height}%`,
});

const drag = useDrag<{ title: number; x: number; y: number }, TitleBox>(root, {
  least: 0.004,
  take(_at, _event, box) {
    if (writing.value !== undefined) return undefined;
    reel.title = box.title;
    return { title: box.title, ...middleOf(box) };
  },
  pull: ({ title, x, y }, _, by) => put(title, x + by.x, y + by.y),
  keep: (_, moved) => moved && void reel.settle(),
  drop: () => reel.drop(),
});

const middleOf = (box: TitleBox) => ({ x: box.left + box.width / 2, y: box.top + box.height / 2 });

function put(title: number, x: number, y: number): void {
  reel.attempt(reel.changeTitle(title, { place: null, x: asShare(x), y: asShare(y) }));
}

function keys(event: KeyboardEvent, box: TitleBox): void {
  if (writing.value !== undefined) return;
  const by = nudged(event, 0.002);
  if (by) {
    reel.title = box.title;
    const { x, y } = middleOf(box);
    put(box.title, x + by.x, y + by.y);
  } else if (event.key === "Enter") {
    event.preventDefault();
    event.stopPropagation();
    void write(box);
  }
}

async function write(box: TitleBox): Promise<void> {
  if (titles.value.get(box.title)?.kind === "picture") return;
  reel.title = writing.value = box.title;
  await nextTick();
  root.value?.querySelector("textarea")?.select();
}

function written(): void {
  writing.value = undefined;
  void reel.settle();
}
</script>

<template>
  <div ref="root" class="over">
    <div
      v-for="box in boxes"
      :key="box.title"
      class="title"
      :class="{ worked: box.title === reel.title }"
      :style="styleOf(box)"
      role="button"
      tabindex="0"
      :aria-label="`Title “${box.text}”: drag it, move it with the arrow keys, Enter to write`"
      @pointerdown="drag.begin($event, box)"
      @dblclick="write(box)"
      @keydown="keys($event, box)"
      @keyup="reel.settle()"
    >
      <textarea
        v-if="writing === box.title"
        :value="titles.get(box.title)?.text"
        maxlength="600"
        aria-label="Text of the title"
        @pointerdown.stop
        @keydown.stop="$event.key === 'Escape' && written()"
        @input="reel.attempt(reel.changeTitle(box.title, { text: ($event.target as HTMLTextAreaElement).value }))"
        @blur="written"
      ></textarea>
    </div>
  </div>
</template>

<style scoped>
.over {
  inset: 0;
  position: absolute;
}

.title {
  cursor: move;
  outline: 1px dashed var(--on-picture-soft);
  outline-offset: 4px;
  position: absolute;
  touch-action: none;
}

.title.worked {
  box-shadow: 0 0 0 6px var(--held-mark);
  outline: 2px solid var(--on-picture);
}

textarea {
  background: var(--picture-label);
  border: 0;
  color: var(--on-picture);
  font: inherit;
  font-size: var(--type-body);
  left: 0;
  min-height: 3.6rem;
  min-width: 14rem;
  padding: 0.35rem 0.5rem;
  position: absolute;
  top: calc(100% + 10px);
  width: 100%;
}
</style>
