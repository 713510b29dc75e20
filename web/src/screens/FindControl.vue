<script setup lang="ts">
import Dialog from "primevue/dialog";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";

import { findingIsOpen } from "../keys/finding";
import { useShot } from "../stores/shot";
import { found, type Control } from "./controls";
import { lead } from "./leading";

const most = 9;

const shot = useShot();
const router = useRouter();
const typed = ref("");
const at = ref(0);
const some = computed(() => found(typed.value).slice(0, most));

function move(by: number): void {
  at.value = Math.max(0, Math.min(some.value.length - 1, at.value + by));
}

async function go(control: Control | undefined): Promise<void> {
  if (!control || !shot.shot) return;
  findingIsOpen.value = false;
  await router.push({ name: "shot", params: { shot: shot.shot.id, step: control.step } });
  await lead(control);
}

watch(typed, () => (at.value = 0));
watch(findingIsOpen, () => (typed.value = ""));
</script>

<template>
  <Dialog
    v-model:visible="findingIsOpen"
    modal
    dismissable-mask
    header="Find a control"
    position="top"
    :style="{ width: '30rem' }"
  >
    <InputText
      v-model="typed"
      autofocus
      class="typed"
      role="combobox"
      aria-label="What you would like to change"
      aria-autocomplete="list"
      aria-controls="found-controls"
      :aria-expanded="some.length > 0"
      :aria-activedescendant="some.length ? `found-control-${at}` : undefined"
      placeholder="grain, horizon, vignette, slower …"
      spellcheck="false"
      autocomplete="off"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(some[at])"
    />
    <ul id="found-controls" role="listbox" aria-label="Controls">
      <li
        v-for="(control, place) in some"
        :id="`found-control-${place}`"
        :key="`${control.step} ${control.section} ${control.says}`"
        role="option"
        tabindex="-1"
        :aria-selected="place === at"
        @pointermove="at = place"
        @click="go(control)"
        @keydown.enter="go(control)"
      >
        {{ control.says }}
        <span class="quiet">{{ control.section ? `${control.step} › ${control.section}` : control.step }}</span>
      </li>
    </ul>
    <p v-if="typed.trim() && !some.length" class="quiet none">Nothing is called that. Try another word for it.</p>
  </Dialog>
</template>

<style scoped>
.typed {
  width: 100%;
}

ul {
  list-style: none;
  margin: 0.6rem 0 0;
  /* As high as it can become, so that nothing jumps while one types. */
  min-height: 19rem;
  padding: 0;
}

li {
  border-radius: var(--round);
  cursor: pointer;
  display: flex;
  justify-content: space-between;
  padding: 0.3rem 0.5rem;
}

li[aria-selected="true"] {
  background: var(--line-pale);
}

.none {
  margin: -18rem 0 16rem;
}
</style>
