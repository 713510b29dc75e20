<script setup lang="ts" generic="Option extends object, Key extends keyof Option">
import { computed, nextTick, ref } from "vue";

/**
 * One of several, chosen from the list the system shows: beside its name, or with a name that is only told. `by` says
 * which part of an option is its value, `words` and `hint` what is shown of it.
 */
const props = defineProps<{
  label?: string;
  /** What it is called for those who do not see what stands around it. */
  name?: string;
  value: unknown;
  options: readonly Option[];
  by: Key;
  words: keyof Option;
  hint?: keyof Option;
  /** What stands there while nothing is chosen; such a list is chosen from again and again. */
  placeholder?: string;
}>();
const emit = defineEmits<{ change: [value: Option[Key]] }>();

const select = ref<HTMLSelectElement>();
const chosen = computed(() => props.options.findIndex((one) => one[props.by] === props.value));

function textOf(one: Option): string {
  const hint = props.hint && one[props.hint];
  return hint ? `${one[props.words]} · ${hint}` : `${one[props.words]}`;
}

async function choose(event: Event): Promise<void> {
  const option = props.options[Number((event.target as HTMLSelectElement).value)];
  if (option) emit("change", option[props.by]);
  // What is decided is shown, not what was clicked: it may be refused.
  await nextTick();
  if (select.value) select.value.value = `${chosen.value}`;
}
</script>

<template>
  <label class="select-field" :class="{ named: label }">
    <span v-if="label">{{ label }}</span>
    <select ref="select" :value="chosen" :aria-label="name ?? label ?? placeholder" @change="choose">
      <option v-if="chosen < 0" value="-1" disabled>{{ placeholder }}</option>
      <option v-for="(one, index) in options" :key="index" :value="index">{{ textOf(one) }}</option>
    </select>
  </label>
</template>

<style scoped>
.select-field {
  display: block;
  min-width: 0;
}

.named {
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: var(--field-columns, minmax(0, 1fr) 12rem);
}

select {
  appearance: none;
  background: var(--bright-paper);
  border: 1px solid var(--edge);
  border-radius: var(--round);
  color: var(--ink);
  font: inherit;
  overflow: hidden;
  padding: 0.34rem 1.8rem 0.34rem 0.6rem;
  text-overflow: ellipsis;
  width: 100%;
}

/* The mark of a list, drawn so that it takes the colour of the text. */
.select-field {
  position: relative;
}

.select-field::after {
  border-bottom: 1.5px solid var(--soft-ink);
  border-right: 1.5px solid var(--soft-ink);
  bottom: 0.95rem;
  content: "";
  height: 0.4rem;
  pointer-events: none;
  position: absolute;
  right: 0.75rem;
  transform: rotate(45deg);
  width: 0.4rem;
}

select:hover {
  border-color: var(--soft-ink);
}

select:has(option[disabled]:checked) {
  color: var(--soft-ink);
}
</style>
