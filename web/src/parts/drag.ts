import { onScopeDispose, shallowRef, type Ref } from "vue";

/** A place in a box, in shares of its width and height. */
export interface Place {
  x: number;
  y: number;
}

/** Where a pointer is in a box. */
export function placeIn(box: Element, event: MouseEvent): Place {
  const area = box.getBoundingClientRect();
  return { x: (event.clientX - area.left) / area.width, y: (event.clientY - area.top) / area.height };
}

export interface Pulled<Held, What> {
  /** Return what is taken hold of at a place, or nothing where there is nothing to pull. */
  take(at: Place, event: PointerEvent, what: What): Held | undefined;
  /** Pull it to a place, so far from where it was taken hold of. */
  pull(held: Held, at: Place, by: Place): void;
  /** Keep what was tried; `moved` is false where it was only clicked. */
  keep?(held: Held, moved: boolean): void;
  /** Throw away what was tried: by Escape, or because the pointer was taken away. */
  drop?(held: Held): void;
  /** What is pulled by less, in shares, was only clicked. */
  least?: number;
}

/**
 * Pulling something along an element with a mouse, a finger or a pen: one pointer at a time, followed beyond the edges.
 * `on` is for the element itself, `begin` for things in it that are told apart by `what`.
 */
export function useDrag<Held, What = void>(element: Ref<Element | undefined>, of: Pulled<Held, What>) {
  const held = shallowRef<Held>();
  let pull: { pointer: number; target: Element; from: Place; moved: boolean } | undefined;

  function begin(event: PointerEvent, what: What): void {
    if (event.button !== 0 || pull) return;
    const from = placeIn(element.value!, event);
    const found = of.take(from, event, what);
    if (found === undefined) return;
    held.value = found;
    pull = { pointer: event.pointerId, target: event.currentTarget as Element, from, moved: false };
    // A click on what lies in it stays a click until it is pulled.
    if (!of.least) follow();
    // Wherever the pointer goes: its first move may lie beyond a small thing already.
    for (const [name, hear] of heard) window.addEventListener(name, hear as EventListener, { capture: true });
  }

  function follow(): void {
    pull!.moved = true;
    pull!.target.setPointerCapture(pull!.pointer);
  }

  function move(event: PointerEvent): void {
    if (event.pointerId !== pull?.pointer) return;
    // Let go of outside of the window, where nobody said so.
    if (!event.buttons) return end(true);
    const at = placeIn(element.value!, event);
    const by = { x: at.x - pull.from.x, y: at.y - pull.from.y };
    if (!pull.moved) {
      if (Math.hypot(by.x, by.y) < of.least!) return;
      follow();
    }
    of.pull(held.value!, at, by);
  }

  function end(isKept: boolean): void {
    if (!pull) return;
    const [what, { moved, target, pointer }] = [held.value!, pull];
    held.value = pull = undefined;
    for (const [name, hear] of heard) window.removeEventListener(name, hear as EventListener, { capture: true });
    if (target.hasPointerCapture(pointer)) target.releasePointerCapture(pointer);
    if (isKept || !of.drop) of.keep?.(what, moved);
    else of.drop(what);
  }

  function escape(event: KeyboardEvent): void {
    if (event.key !== "Escape") return;
    event.preventDefault();
    event.stopPropagation();
    end(false);
  }

  const heard = [
    ["pointermove", move],
    ["pointerup", (event: PointerEvent) => event.pointerId === pull?.pointer && end(true)],
    ["pointercancel", (event: PointerEvent) => event.pointerId === pull?.pointer && end(false)],
    ["keydown", escape],
  ] as const;
  onScopeDispose(() => end(false));
  return { held, begin, on: { pointerdown: (event: PointerEvent) => begin(event, undefined as What) } };
}

/** Putting something where the pointer is, from where it is pressed on; gives what the element listens to. */
export function useDragTo(
  element: Ref<Element | undefined>,
  put: (at: Place) => void,
  of: Pick<Pulled<true, void>, "keep" | "drop"> = {},
) {
  const take = (at: Place) => {
    put(at);
    return true as const;
  };
  return useDrag<true>(element, { take, pull: (_, at) => put(at), ...of }).on;
}

const ways: Record<string, Place> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

/** Return how far an arrow key moves something: ten times as far with Shift, a tenth with Alt. */
export function arrowOf(event: KeyboardEvent, step: number): Place | undefined {
  const way = ways[event.key];
  if (!way || event.ctrlKey || event.metaKey) return undefined;
  const by = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
  return { x: way.x * by, y: way.y * by };
}

/** Return what `arrowOf` does, of a key that then does nothing else. */
export function nudged(event: KeyboardEvent, step: number): Place | undefined {
  const by = arrowOf(event, step);
  if (by) {
    event.preventDefault();
    event.stopPropagation();
  }
  return by;
}

/** Moving something by arrow keys: tried while a key is held down, kept when it is let go of. */
export function useNudge(step: number, move: (by: Place) => void, keep: () => unknown) {
  return {
    keydown(event: KeyboardEvent): void {
      const by = nudged(event, step);
      if (by) move(by);
    },
    keyup: () => void keep(),
  };
}
