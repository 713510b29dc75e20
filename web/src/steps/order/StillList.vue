<script setup lang="ts">
import VirtualScroller from "primevue/virtualscroller";
import { ref, watch } from "vue";

import type { Still } from "../../api/client";
import { placeIn } from "../../parts/drag";
import { bytesText } from "../../parts/wording";
import { useStillPicking } from "../../stage/stillPicking";
import { useShot } from "../../stores/shot";

const rowHeight = 30;
const shot = useShot();
const scroller = ref<InstanceType<typeof VirtualScroller>>();
const { dropAt, pick, isChosen, begin, over, drop, end } = useStillPicking();

watch(
  () => shot.current,
  (position) => {
    const list = (scroller.value as unknown as { $el: HTMLElement } | undefined)?.$el;
    if (!list) return;
    const top = position * rowHeight;
    if (top < list.scrollTop) list.scrollTop = top;
    else if (top + rowHeight > list.scrollTop + list.clientHeight) list.scrollTop = top + rowHeight - list.clientHeight;
  },
  { flush: "post" },
);

/** A capture time is the camera's own clock: it is shown as written, not moved to this machine's time zone. */
function time(still: Still): string {
  return still.captured_at ? still.captured_at.slice(0, 19).replace("T", " ") : "no time";
}
</script>

<template>
  <div class="row heads" aria-hidden="true">
    <span>no.</span><span>name</span><span>pixels</span><span>size</span><span>taken</span>
  </div>
  <VirtualScroller
    ref="scroller"
    :items="shot.stills.stills"
    :item-size="rowHeight"
    class="list"
    aria-label="Stills in order"
  >
    <template #item="{ item }: { item: Still }">
      <button
        type="button"
        class="row"
        tabindex="-1"
        draggable="true"
        :class="{
          now: item.position === shot.current,
          chosen: isChosen(item.position),
          aside: shot.out.has(item.id),
          'drop-before': dropAt === item.position,
          'drop-after': dropAt === item.position + 1 && item.position === shot.count - 1,
        }"
        :aria-current="item.position === shot.current"
        :style="{ height: `${rowHeight}px` }"
        @click="pick(item.position, $event.shiftKey)"
        @dragstart="begin($event, item)"
        @dragover="over($event, item, placeIn($event.currentTarget as Element, $event).y > 0.5)"
        @drop.prevent="drop"
        @dragend="end()"
        @pointerenter="shot.peeked = item.position"
        @pointerleave="shot.peeked = undefined"
      >
        <span>{{ item.position + 1 }}</span>
        <span class="name" :title="item.name">{{ item.name }}</span>
        <span>{{ item.width }}×{{ item.height }}</span>
        <span>{{ item.away ? "away" : bytesText(item.bytes) }}</span>
        <span>{{ time(item) }}</span>
      </button>
    </template>
  </VirtualScroller>
</template>

<style scoped>
.row {
  align-items: center;
  background: none;
  border: 0;
  border-left: 3px solid transparent;
  color: inherit;
  cursor: pointer;
  display: grid;
  font-family: var(--mono);
  font-size: var(--type-small);
  font-variant-numeric: tabular-nums;
  gap: 0.7rem;
  grid-template-columns: 2.6rem minmax(0, 1fr) 5rem 4rem 10rem;
  padding: 0 0.6rem 0 0.8rem;
  text-align: left;
  white-space: nowrap;
  width: 100%;
}

.row span:not(.name, :last-child, :nth-child(2)) {
  text-align: right;
}

.heads {
  border-bottom: 1px solid var(--hair);
  color: var(--soft-ink);
  cursor: default;
  font-family: var(--text);
  padding-bottom: 0.25rem;
}

.list .row:hover {
  background: var(--shade);
}

.list .row.chosen {
  background: var(--line-pale);
}

.list .row.now {
  background: var(--line-pale);
  border-left-color: var(--line);
}

.row.aside .name {
  color: var(--soft-ink);
  text-decoration: line-through;
}

.drop-before {
  box-shadow: 0 -2px 0 var(--line);
}

.drop-after {
  box-shadow: 0 2px 0 var(--line);
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
