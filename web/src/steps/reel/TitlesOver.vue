<script setup lang="ts">
import { useThrottleFn } from "@vueuse/core";
import { computed, nextTick, ref, shallowRef, watch } from "vue";

import { api, type TitleBox } from "../../api/client";
import { placeIn } from "../../stage/picture";
import { useReel } from "./reel";

/** The titles of the frame that is looked at: dragged, moved by keys, and written where they are read. */
const reel = useReel();
const root = ref<HTMLElement>();
const boxes = shallowRef<TitleBox[]>([]);
const dragged = shallowRef<{ title: number; x: number; y: number; begun: { x: number; y: number }; moved: boolean }>();
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

function press(event: PointerEvent, box: TitleBox): void {
  if (writing.value !== undefined) return;
  reel.title = box.title;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  dragged.value = {
    title: box.title,
    x: box.left + box.width / 2,
    y: box.top + box.height / 2,
    begun: placeIn(root.value!, event),
    moved: false,
  };
}

function drag(event: PointerEvent): void {
  const now = dragged.value;
  if (!now) return;
  const to = placeIn(root.value!, event);
  const [dx, dy] = [to.x - now.begun.x, to.y - now.begun.y];
  if (!now.moved && Math.hypot(dx, dy) < 0.004) return;
  now.moved = true;
  put(now.title, now.x + dx, now.y + dy);
}

function put(title: number, x: number, y: number): void {
  const within = (share: number) => Math.max(0, Math.min(1, share));
  reel.attempt(reel.changeTitle(title, { place: null, x: within(x), y: within(y) }));
}

function release(): void {
  if (dragged.value?.moved) void reel.settle();
  dragged.value = undefined;
}

function keys(event: KeyboardEvent, box: TitleBox): void {
  if (writing.value !== undefined) return;
  const by = event.shiftKey ? 0.02 : 0.002;
  const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key];
  if (way) {
    event.preventDefault();
    event.stopPropagation();
    reel.title = box.title;
    put(box.title, box.left + box.width / 2 + way[0]!, box.top + box.height / 2 + way[1]!);
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
      @pointerdown="press($event, box)"
      @pointermove="drag"
      @pointerup="release"
      @pointercancel="release"
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
