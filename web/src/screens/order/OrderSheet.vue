<script setup lang="ts">
import VirtualScroller from "primevue/virtualscroller";
import { ref, watch } from "vue";
import { useRouter } from "vue-router";

import type { Still } from "../../api/client";
import { bytesText } from "../../parts/sizes";
import { useShot } from "../../stores/shot";
import OrderChoice from "./OrderChoice.vue";
import RenameTable from "./RenameTable.vue";

const rowHeight = 30;
const shot = useShot();
const router = useRouter();
const room = ref<"order" | "names">("order");
const scroller = ref<InstanceType<typeof VirtualScroller> & { scrollInView(index: number, to: string): void }>();

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

defineExpose({
  mainAction: () => void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "fit" } }),
});
</script>

<template>
  <div class="order">
    <nav class="rooms" aria-label="Order or names">
      <button type="button" :aria-pressed="room === 'order'" @click="room = 'order'">Order</button>
      <button type="button" :aria-pressed="room === 'names'" @click="room = 'names'">Names</button>
    </nav>
    <RenameTable v-if="room === 'names'" />
    <template v-else>
    <section v-if="shot.order" class="choice">
      <p>{{ shot.order.reason }}</p>
      <OrderChoice />
      <ul v-if="shot.order.breaks.length" aria-label="What breaks the order">
        <li v-for="one in shot.order.breaks" :key="`${one.kind}${one.position}`" :class="{ calm: one.kind === 'skipped' }">
          <button type="button" class="plain-button" @click="shot.goTo(one.position)">{{ one.sentence }}</button>
        </li>
      </ul>
    </section>
    <div class="row heads" aria-hidden="true">
      <span>no.</span><span>name</span><span>pixels</span><span>size</span><span>taken</span>
    </div>
    <VirtualScroller ref="scroller" :items="shot.stills.stills" :item-size="rowHeight" class="list">
      <template #item="{ item }: { item: Still }">
        <button
          type="button"
          class="row"
          tabindex="-1"
          :class="{ now: item.position === shot.current }"
          :aria-current="item.position === shot.current"
          :style="{ height: `${rowHeight}px` }"
          @click="shot.goTo(item.position)"
          @pointerenter="shot.peeked = item.position"
          @pointerleave="shot.peeked = undefined"
        >
          <span>{{ item.position + 1 }}</span>
          <span class="name" :title="item.name">{{ item.name }}</span>
          <span>{{ item.width }}×{{ item.height }}</span>
          <span>{{ bytesText(item.bytes) }}</span>
          <span>{{ time(item) }}</span>
        </button>
      </template>
    </VirtualScroller>
    </template>
  </div>
</template>

<style scoped>
.order {
  display: grid;
  grid-template-rows: auto auto auto minmax(0, 1fr);
  height: 100%;
}

.rooms {
  border-bottom: 1px solid var(--hair);
  display: flex;
  gap: 0.3rem;
  padding: 0.4rem 0.9rem 0;
}

.rooms button {
  background: none;
  border: 0;
  border-bottom: 3px solid transparent;
  color: var(--soft-ink);
  cursor: pointer;
  font: 600 1rem var(--heading);
  padding: 0.35rem 0.4rem 0.3rem;
}

.rooms button[aria-pressed="true"] {
  border-bottom-color: var(--line);
  color: var(--ink);
}

.choice {
  display: grid;
  gap: 0.7rem;
  padding: 1.1rem 1.1rem 0.9rem;
}

.choice ul {
  display: grid;
  gap: 0.15rem;
  list-style: none;
  margin: 0;
  max-height: 8rem;
  overflow: auto;
  padding: 0;
}

.choice li {
  border-left: 3px solid var(--saffron);
}

.choice li.calm {
  border-left-color: var(--hair);
}

.choice li button {
  text-align: left;
}

.row {
  align-items: center;
  background: none;
  border: 0;
  border-left: 3px solid transparent;
  color: inherit;
  cursor: pointer;
  display: grid;
  font-family: var(--mono);
  font-size: 0.82rem;
  font-variant-numeric: tabular-nums;
  gap: 0.7rem;
  grid-template-columns: 2.6rem minmax(0, 1fr) 5rem 4rem 9.6rem;
  padding: 0 0.6rem 0 0.8rem;
  text-align: left;
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

.list .row.now {
  background: var(--line-pale);
  border-left-color: var(--line);
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
