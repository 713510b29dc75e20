import { beforeEach, describe, expect, it, vi } from "vitest";
import { effectScope, shallowRef } from "vue";

import { arrowOf, useDrag, useNudge, type Pulled } from "../src/parts/drag";

class Box {
  captured: number | undefined;
  getBoundingClientRect = () => ({ left: 100, top: 50, width: 200, height: 100 });
  setPointerCapture = (pointer: number) => (this.captured = pointer);
  hasPointerCapture = (pointer: number) => this.captured === pointer;
  releasePointerCapture = () => (this.captured = undefined);
}

let keys: Record<string, (event: object) => void>;
/** Something that happens to a pointer, wherever it is. */
const happens = (name: string, what: object) => keys[name]?.(what);
let box: Box;
const event = (x: number, y: number, more: object = {}) =>
  ({
    button: 0,
    buttons: 1,
    pointerId: 1,
    clientX: x,
    clientY: y,
    currentTarget: box,
    ...more,
  }) as unknown as PointerEvent;

beforeEach(() => {
  keys = {};
  box = new Box();
  vi.stubGlobal("window", {
    addEventListener: (name: string, heard: (event: object) => void) => (keys[name] = heard),
    removeEventListener: (name: string) => delete keys[name],
  });
});

/** A thing at 0.5, 0.5 that is dragged, and all that was heard of it. */
function dragged(more: Partial<Pulled<string, void>> = {}) {
  const heard: unknown[] = [];
  const scope = effectScope();
  const drag = scope.run(() =>
    useDrag<string>(shallowRef(box as unknown as Element), {
      take: (at) => (heard.push(["take", at]), "it"),
      pull: (what, at, by) => heard.push(["pull", what, at, by]),
      keep: (what, moved) => heard.push(["keep", what, moved]),
      drop: (what) => heard.push(["drop", what]),
      ...more,
    }),
  )!;
  return { ...drag, heard, scope };
}

describe("what is dragged", () => {
  it("is pulled in shares of the box from where it was taken hold of, and kept when it is let go of", () => {
    const { on, heard } = dragged();
    on.pointerdown(event(200, 100));
    happens("pointermove", event(250, 75));
    happens("pointerup", event(250, 75));
    happens("pointermove", event(300, 75));
    expect(heard).toEqual([
      ["take", { x: 0.5, y: 0.5 }],
      ["pull", "it", { x: 0.75, y: 0.25 }, { x: 0.25, y: -0.25 }],
      ["keep", "it", true],
    ]);
    expect(box.captured).toBeUndefined();
  });

  it("is thrown away by Escape, and by a pointer that is taken away", () => {
    for (const end of [
      () => happens("pointercancel", event(0, 0)),
      () => keys.keydown!({ key: "Escape", preventDefault: () => {}, stopPropagation: () => {} }),
    ]) {
      const drag = dragged();
      drag.on.pointerdown(event(200, 100));
      happens("pointermove", event(250, 75));
      end();
      happens("pointerup", event(250, 75));
      expect(drag.heard.at(-1)).toEqual(["drop", "it"]);
      expect(keys.keydown).toBeUndefined();
    }
  });

  it("is followed by one pointer, with its main button", () => {
    const { on, heard } = dragged();
    on.pointerdown(event(200, 100, { button: 2 }));
    expect(heard).toEqual([]);
    on.pointerdown(event(200, 100));
    on.pointerdown(event(110, 60, { pointerId: 2 }));
    happens("pointermove", event(110, 60, { pointerId: 2 }));
    happens("pointerup", event(110, 60, { pointerId: 2 }));
    expect(heard).toHaveLength(1);
  });

  it("was only clicked until it is pulled far enough", () => {
    const { on, heard, held } = dragged({ least: 0.1 });
    on.pointerdown(event(200, 100));
    happens("pointermove", event(210, 100));
    expect(box.captured).toBeUndefined();
    happens("pointerup", event(210, 100));
    expect(heard.slice(1)).toEqual([["keep", "it", false]]);
    on.pointerdown(event(200, 100));
    happens("pointermove", event(230, 100));
    expect(box.captured).toBe(1);
    expect(held.value).toBe("it");
  });

  it("is kept where the button was let go of outside, and thrown away with its view", () => {
    const { on, heard, scope } = dragged();
    on.pointerdown(event(200, 100));
    happens("pointermove", event(250, 75, { buttons: 0 }));
    expect(heard.at(-1)).toEqual(["keep", "it", true]);
    on.pointerdown(event(200, 100));
    scope.stop();
    expect(heard.at(-1)).toEqual(["drop", "it"]);
  });
});

describe("what is moved by keys", () => {
  const press = (key: string, more: object = {}) =>
    ({ key, preventDefault: vi.fn(), stopPropagation: vi.fn(), ...more }) as unknown as KeyboardEvent;

  it("goes a step, ten with Shift, a tenth with Alt", () => {
    expect(arrowOf(press("ArrowRight"), 0.5)).toEqual({ x: 0.5, y: 0 });
    expect(arrowOf(press("ArrowUp", { shiftKey: true }), 0.5)).toEqual({ x: 0, y: -5 });
    expect(arrowOf(press("ArrowDown", { altKey: true }), 0.5)).toEqual({ x: 0, y: 0.05 });
    expect(arrowOf(press("ArrowLeft", { ctrlKey: true }), 0.5)).toBeUndefined();
    expect(arrowOf(press("a"), 0.5)).toBeUndefined();
  });

  it("takes its own keys alone, and is kept when they are let go of", () => {
    const [move, keep] = [vi.fn(), vi.fn()];
    const { keydown, keyup } = useNudge(1, move, keep);
    const [other, arrow] = [press("Tab"), press("ArrowLeft")];
    keydown(other);
    expect(other.preventDefault).not.toHaveBeenCalled();
    keydown(arrow);
    expect(arrow.preventDefault).toHaveBeenCalled();
    expect(move).toHaveBeenCalledExactlyOnceWith({ x: -1, y: 0 });
    keyup();
    expect(keep).toHaveBeenCalledOnce();
  });
});
