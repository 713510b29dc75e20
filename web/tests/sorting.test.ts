// @vitest-environment happy-dom
import { mount } from "@vue/test-utils";
import { beforeEach, describe, expect, test, vi } from "vitest";
import { defineComponent, h, ref } from "vue";

import { putAt, useSorting } from "../src/parts/sorting";

const HIGH = 20;
let put: ReturnType<typeof vi.fn<(thing: number, to: number) => void>>;
const things = ref([1, 2, 3, 4]);

/** A list of things of 20 pixels each, one below the other. */
function listed() {
  const component = defineComponent({
    setup() {
      const list = ref<HTMLElement>();
      const sorting = useSorting(list, () => things.value, put);
      return () =>
        h(
          "ol",
          { ref: list },
          things.value.map((thing) =>
            h("li", {
              key: thing,
              id: `thing-${thing}`,
              class: sorting.stateOf(thing),
              onPointerdown: (event: PointerEvent) => sorting.begin(event, thing),
              onKeydown: (event: KeyboardEvent) => sorting.keys(event, thing),
            }),
          ),
        );
    },
  });
  const mounted = mount(component, { attachTo: document.body });
  const box = (top: number, height: number) => ({ left: 0, top, width: 100, height }) as DOMRect;
  mounted.element.getBoundingClientRect = () => box(0, HIGH * things.value.length);
  Element.prototype.getBoundingClientRect = function (this: Element) {
    return box([...mounted.element.children].indexOf(this as HTMLElement) * HIGH, HIGH);
  };
  Element.prototype.setPointerCapture = Element.prototype.releasePointerCapture = () => undefined;
  Element.prototype.hasPointerCapture = () => true;
  const pointer = (name: string, y: number) =>
    new PointerEvent(name, { button: 0, buttons: 1, pointerId: 1, clientX: 5, clientY: y, bubbles: true });
  return {
    classes: () => [...mounted.element.children].map((one) => one.className),
    take: (thing: number) => mounted.get(`#thing-${thing}`).element.dispatchEvent(pointer("pointerdown", 1)),
    async pull(y: number) {
      window.dispatchEvent(pointer("pointermove", y));
      await mounted.vm.$nextTick();
    },
    letGo: () => window.dispatchEvent(pointer("pointerup", 0)),
    press: (thing: number, key: string, more = {}) =>
      mounted.get(`#thing-${thing}`).trigger("keydown", { key, shiftKey: true, ...more }),
  };
}

beforeEach(() => {
  document.body.innerHTML = "";
  things.value = [1, 2, 3, 4];
  put = vi.fn();
});

describe("things that are sorted by their grips", () => {
  test.each([
    [1, 45, 1],
    [1, 79, 3],
    [4, 2, 0],
    [3, 29, 1],
  ])("%i pulled to %i goes to place %i, and that is shown", async (thing, y, to) => {
    const list = listed();
    list.take(thing);
    await list.pull(y);
    const left = things.value.filter((one) => one !== thing);
    // Right above what comes after it then, or below what comes last.
    const next = left[to];
    expect(list.classes()).toEqual(
      things.value.map((one) => {
        if (one === thing) return "held";
        if (next === undefined) return one === left.at(-1) ? "below" : "";
        return one === next ? "above" : "";
      }),
    );
    list.letGo();
    expect(put.mock.calls).toEqual([[thing, to]]);
  });

  test("one that is let go of where it was, or by Escape, stays", async () => {
    const list = listed();
    list.take(2);
    await list.pull(35);
    list.letGo();
    list.take(2);
    await list.pull(75);
    window.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape" }));
    list.letGo();
    expect(put).not.toHaveBeenCalled();
  });

  test("what happens to the list meanwhile moves no other one", async () => {
    const list = listed();
    list.take(3);
    things.value = [2, 3, 4];
    await list.pull(59);
    list.letGo();
    expect(put.mock.calls).toEqual([[3, 2]]);
    list.take(3);
    await list.pull(1);
    things.value = [2, 4];
    list.letGo();
    expect(put).toHaveBeenCalledTimes(1);
  });

  test("Shift and an arrow move one by a place, and never beyond the ends", async () => {
    const list = listed();
    await list.press(2, "ArrowUp");
    await list.press(2, "ArrowDown");
    await list.press(1, "ArrowUp");
    await list.press(4, "ArrowDown");
    await list.press(2, "ArrowDown", { shiftKey: false });
    expect(put.mock.calls).toEqual([
      [2, 0],
      [2, 2],
    ]);
  });
});

test("a thing that is gone is put nowhere", () => {
  const [one, two, three] = [{ n: 1 }, { n: 2 }, { n: 3 }];
  expect(putAt([one, two, three], one, 2)).toEqual([two, three, one]);
  expect(putAt([one, two], three, 0)).toEqual([one, two]);
  expect(putAt([one, two], undefined, 0)).toEqual([one, two]);
});
