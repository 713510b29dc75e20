import { computed, onScopeDispose, shallowRef } from "vue";
import type { RouteLocationRaw } from "vue-router";

/** What the screen that is open has the head of the page say: where one is, and what there is beside it. */
export interface Head {
  project: { id: number; name: string };
  /** What of the project is open: a shot, a reel, the plan. */
  inside?: string;
  tabs?: { words: string; to: RouteLocationRaw; isOpen: boolean; isToLookAt: boolean }[];
  /** What the tabs are, for those who do not see them. */
  tabsAre?: string;
  /** Look for a control by a word, where there are some. */
  find?: () => void;
}

const told = shallowRef<() => Head | undefined>();

export const head = computed(() => told.value?.());

/** Tell the head what to say, for as long as the screen is open. */
export function useHead(say: () => Head | undefined): void {
  told.value = say;
  // The next screen may be there before this one has gone.
  onScopeDispose(() => {
    if (told.value === say) told.value = undefined;
  });
}
