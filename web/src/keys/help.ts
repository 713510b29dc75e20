import { ref, watch } from "vue";

export const helpIsOpen = ref(false);

/** Whether it was ever asked for: until then it is not loaded. */
export const helpWasOpened = ref(false);
watch(helpIsOpen, () => (helpWasOpened.value = true), { flush: "sync", once: true });
