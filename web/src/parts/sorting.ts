import { ref, type Ref } from "vue";

import { useDrag, type Place } from "./drag";

/**
 * Putting the things of a list into another order: by their grips, with a mouse, a finger or a pen, or one place
 * earlier or later by Shift ↑ ↓. Each child of the list is a thing, known by what `things` says of it; the list may
 * change while one is dragged. `put` is told which thing is moved, and where it is to be among the others.
 */
export function useSorting(
  list: Ref<HTMLElement | undefined>,
  things: () => readonly number[],
  put: (thing: number, to: number) => unknown,
) {
  const moved = ref<{ thing: number; to: number }>();

  /** How many of the other things have their middle above the pointer. */
  function placeAt(thing: number, at: Place): number {
    const from = things().indexOf(thing);
    const whole = list.value!.getBoundingClientRect();
    const pointer = whole.top + at.y * whole.height;
    const others = [...list.value!.children].filter((_, place) => place !== from);
    return others.filter((one) => {
      const box = one.getBoundingClientRect();
      return pointer > box.top + box.height / 2;
    }).length;
  }

  const drag = useDrag<number, number>(list, {
    take(_, event, thing) {
      event.preventDefault();
      moved.value = { thing, to: things().indexOf(thing) };
      return thing;
    },
    pull: (thing, at) => (moved.value = { thing, to: placeAt(thing, at) }),
    keep() {
      const { thing, to } = moved.value!;
      moved.value = undefined;
      const from = things().indexOf(thing);
      if (from >= 0 && to !== from) put(thing, to);
    },
    drop: () => (moved.value = undefined),
  });

  return {
    begin: drag.begin,

    keys(event: KeyboardEvent, thing: number): void {
      if (!event.shiftKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
      event.preventDefault();
      event.stopPropagation();
      const to = things().indexOf(thing) + (event.key === "ArrowUp" ? -1 : 1);
      if (to >= 0 && to < things().length) put(thing, to);
    },

    /** Whether a thing is the one that is moved, and whether that would go right above it, or below it at the end. */
    stateOf(thing: number) {
      const now = moved.value;
      const from = now ? things().indexOf(now.thing) : -1;
      if (!now || from < 0 || from === now.to) return { held: now?.thing === thing };
      const gap = now.to < from ? now.to : now.to + 1;
      const place = things().indexOf(thing);
      const last = things().length - 1;
      return { held: now.thing === thing, above: gap === place, below: place === last && gap > last };
    },
  };
}

/** Return a list in which one of its things, if it is there, is at another place. */
export function putAt<Thing extends object>(things: readonly Thing[], moved: Thing | undefined, to: number): Thing[] {
  if (!moved || !things.includes(moved)) return [...things];
  return things.filter((one) => one !== moved).toSpliced(to, 0, moved);
}
