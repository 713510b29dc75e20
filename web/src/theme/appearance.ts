import { useLocalStorage, usePreferredDark } from "@vueuse/core";
import { computed, watchEffect } from "vue";

import { sheet } from "./tokens";

/** What was chosen against the system's wish; nothing where it is followed. */
const chosen = useLocalStorage<"light" | "dark" | "">("appearance", "");
const wished = usePreferredDark();

export const isDark = computed(() => (chosen.value ? chosen.value === "dark" : wished.value));

/** Change between light and dark; who comes back to the system's wish follows it again. */
export function toggleDark(): void {
  const next = !isDark.value;
  chosen.value = next === wished.value ? "" : next ? "dark" : "light";
}

/** Put the variables into the page before anything is shown. */
export function beginAppearance(): void {
  const style = document.createElement("style");
  style.textContent = sheet;
  document.head.prepend(style);
  watchEffect(() => {
    document.documentElement.dataset.appearance = isDark.value ? "dark" : "light";
  });
}
