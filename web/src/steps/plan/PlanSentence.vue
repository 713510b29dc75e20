<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";

import type { Planned, Quantity } from "../../api/client";
import { sentence } from "./plan";

/** The sums of a planned shot in one sentence; each number is a field, and can be locked. */
const props = defineProps<{ planned: Planned }>();
const emit = defineEmits<{ change: [quantity: Quantity, text: string]; lock: [quantity: Quantity] }>();

const typed = ref<Partial<Record<Quantity, string>>>({});
const of = computed(() => new Map(props.planned.quantities.map((one) => [one.quantity, one])));
const named = (quantity: Quantity) => of.value.get(quantity)!.name;
const moved = computed(() => props.planned.moved.map((one) => named(one)));

const shown = (quantity: Quantity) => typed.value[quantity] ?? of.value.get(quantity)!.text;
const width = (quantity: Quantity) => `${Math.max(3, shown(quantity).length) + 0.6}ch`;

function leave(quantity: Quantity): void {
  const text = typed.value[quantity]?.trim();
  delete typed.value[quantity];
  if (text && text !== of.value.get(quantity)!.text) emit("change", quantity, text);
}

function escape(quantity: Quantity, event: Event): void {
  delete typed.value[quantity];
  void nextTick(() => (event.target as HTMLInputElement).select());
}

watch(
  () => props.planned.id,
  () => (typed.value = {}),
);
</script>

<template>
  <section class="sums" aria-label="The sums of this shot">
    <p class="sentence">
      <template v-for="part in sentence" :key="part.quantity"
        >{{ part.before
        }}<span class="field"
          ><input
            :value="shown(part.quantity)"
            :style="{ width: width(part.quantity) }"
            :aria-label="named(part.quantity)"
            spellcheck="false"
            autocomplete="off"
            @focus="($event.target as HTMLInputElement).select()"
            @input="typed[part.quantity] = ($event.target as HTMLInputElement).value"
            @keydown.enter="leave(part.quantity)"
            @keydown.esc="escape(part.quantity, $event)"
            @blur="leave(part.quantity)"
          /><button
            type="button"
            class="lock"
            :class="{ locked: of.get(part.quantity)!.locked }"
            :aria-pressed="of.get(part.quantity)!.locked"
            :aria-label="`${of.get(part.quantity)!.locked ? 'locked' : 'moves'}: ${named(part.quantity)}`"
            @click="emit('lock', part.quantity)"
          >
            {{ of.get(part.quantity)!.locked ? "locked" : "moves" }}
          </button></span
        >{{ part.after }}</template
      >
    </p>
    <p class="quiet came" role="status">
      <template v-if="moved.length">Moved with it: {{ moved.join(", ") }}. </template>
      <template v-for="line in planned.rounding" :key="line">{{ line }} </template>
      <template v-if="!moved.length && !planned.rounding.length"
        >Change a number; what is locked stays, and the fewest others move.</template
      >
    </p>
  </section>
</template>

<style scoped>
.sums {
  display: grid;
  gap: 0.6rem;
}

.sentence {
  font-family: var(--heading);
  font-size: var(--type-large);
  line-height: 2.35;
  text-wrap: pretty;
}

.field {
  display: inline-block;
  position: relative;
}

.field input {
  background: none;
  border: 0;
  border-bottom: 2px solid var(--line);
  border-radius: 0;
  color: var(--ink);
  font-family: var(--mono);
  font-size: var(--type-small);
  font-variant-numeric: tabular-nums;
  line-height: 1.25;
  padding: 0 0.1ch;
  text-align: center;
}

.field input:hover,
.field input:focus {
  background: var(--line-pale);
}

.lock {
  background: none;
  border: 0;
  border-radius: var(--round);
  color: var(--soft-ink);
  cursor: pointer;
  font-family: var(--text);
  font-size: var(--type-tiny);
  left: 50%;
  line-height: 1.4;
  min-height: 24px;
  min-width: 48px;
  padding: 0 0.35rem;
  position: absolute;
  top: calc(50% + 0.95rem);
  transform: translateX(-50%);
}

.lock:hover {
  background: var(--shade);
}

.lock.locked {
  background: var(--ink);
  color: var(--bright-paper);
}

.came {
  min-height: 1.45em;
}
</style>
