import { useLocalStorage } from "@vueuse/core";

export const mats = ["white", "grey", "black"] as const;
export type Mat = (typeof mats)[number];

/** The colour around the picture, the same on every stage. */
export function useMat() {
  return useLocalStorage<Mat>("mat", "grey");
}
