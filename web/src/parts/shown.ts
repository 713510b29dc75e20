import type { Directive } from "vue";

/** Fields in which somebody has typed what is not sent off yet. */
const typedIn = new WeakSet<Element>();

type Field = HTMLInputElement | HTMLTextAreaElement;

function show(field: Field, value: unknown): void {
  const text = value === null || value === undefined ? "" : String(value);
  if (!typedIn.has(field) && field.value !== text) field.value = text;
}

/**
 * `v-shown="value"`: show a value in a field that is sent off when it is left. What is being typed stays: an answer to
 * something else that comes meanwhile draws the page anew, and `:value` would write over it.
 */
export const vShown: Directive<Field, unknown> = {
  mounted(field, { value }) {
    field.addEventListener("input", () => typedIn.add(field));
    field.addEventListener("change", () => typedIn.delete(field), { capture: true });
    show(field, value);
  },
  updated: (field, { value }) => show(field, value),
};

/** What stands in the field that tells of a change. */
export const textIn = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value;
export const numberIn = (event: Event) => Number(textIn(event));
