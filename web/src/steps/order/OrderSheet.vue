<script setup lang="ts">
import { defineAsyncComponent, ref } from "vue";
import { useRoute, useRouter } from "vue-router";

import { useShot } from "../../stores/shot";
import ChosenBar from "./ChosenBar.vue";
import DigitChoice from "./DigitChoice.vue";
import ListExchange from "./ListExchange.vue";
import OrderChoice from "./OrderChoice.vue";
import StillList from "./StillList.vue";

// Fetched by those who look at the names.
const RenameTable = defineAsyncComponent(() => import("./RenameTable.vue"));
const shot = useShot();
const router = useRouter();
/** Who is led here from encode writes numbered pictures. */
const tab = ref<"order" | "names">(useRoute().query.part === "pictures" ? "names" : "order");

defineExpose({
  mainAction: () => void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "fit" } }),
});
</script>

<template>
  <div class="order">
    <nav class="tabs" aria-label="Order or names">
      <button type="button" :aria-pressed="tab === 'order'" @click="tab = 'order'">Order</button>
      <button type="button" :aria-pressed="tab === 'names'" @click="tab = 'names'">Names</button>
    </nav>
    <RenameTable v-if="tab === 'names'" />
    <template v-else>
      <section v-if="shot.order" class="choice">
        <p>{{ shot.order.reason }}</p>
        <OrderChoice />
        <DigitChoice />
        <ul v-if="shot.order.breaks.length" aria-label="What breaks the order">
          <li
            v-for="one in shot.order.breaks"
            :key="`${one.kind}${one.position}`"
            :class="{ calm: one.kind === 'skipped' }"
          >
            <button type="button" class="plain-button" @click="shot.goTo(one.position)">{{ one.sentence }}</button>
          </li>
        </ul>
        <ListExchange />
      </section>
      <ChosenBar />
      <StillList />
    </template>
  </div>
</template>

<style scoped>
.order {
  display: grid;
  grid-template-rows: auto auto auto auto minmax(0, 1fr);
  height: 100%;
}

.tabs {
  border-bottom: 1px solid var(--hair);
  display: flex;
  gap: 0.3rem;
  padding: 0.4rem 0.9rem 0;
}

.tabs button {
  background: none;
  border: 0;
  border-bottom: 3px solid transparent;
  color: var(--soft-ink);
  cursor: pointer;
  font: 600 1rem var(--heading);
  padding: 0.35rem 0.4rem 0.3rem;
}

.tabs button[aria-pressed="true"] {
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
</style>
