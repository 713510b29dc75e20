import { ref, watch } from "vue";

/** Whether a control is being looked for by a word. */
export const findingIsOpen = ref(false);

/** Whether that was ever so: until then it is not loaded. */
export const findingWasOpened = ref(false);
watch(findingIsOpen, () => (findingWasOpened.value = true), { flush: "sync", once: true });
