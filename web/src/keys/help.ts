import { ref } from "vue";

export const helpIsOpen = ref(false);
