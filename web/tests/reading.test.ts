// @vitest-environment happy-dom
import { mount, type VueWrapper } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { defineComponent, h, nextTick, reactive, shallowRef, type Ref } from "vue";

import { Problem } from "../src/api/http";
import { useQueries, useRead } from "../src/api/queries";
import { useDerived } from "../src/stores/derived";
import { useShot } from "../src/stores/shot";

const program = vi.hoisted(() => ({ back: () => undefined as void, missed: 0 }));
vi.mock("../src/api/events", () => ({
  onTold: () => undefined,
  onBack: (hear: () => void) => (program.back = hear),
  openSoon: () => (program.missed += 1),
  answersAgain: () => new Promise(() => undefined),
}));

/** What was asked, in turn, each to be answered when the test says so. */
interface Question {
  of: unknown;
  answer: (answer: string) => void;
  refuse: (problem: Problem) => void;
}

let asked: Question[];
let pinia: ReturnType<typeof createPinia>;
let open: VueWrapper[];
const ask = (of: unknown) =>
  new Promise<string>((answer, refuse) => asked.push({ of: structuredClone(of), answer, refuse }));
const settled = async () => {
  await vi.advanceTimersByTimeAsync(1000);
  await nextTick();
};

beforeEach(() => {
  vi.useFakeTimers();
  asked = [];
  open = [];
  program.missed = 0;
  pinia = createPinia();
});
afterEach(() => {
  open.forEach((one) => one.unmount());
  vi.useRealTimers();
});

/** A component that does this in its setup, on a page that can ask. */
function page(setup: () => unknown): VueWrapper {
  const component = defineComponent({
    setup() {
      setup();
      return () => h("p");
    },
  });
  const mounted = mount(component, { global: { plugins: [pinia, { install: useQueries }] } });
  open.push(mounted);
  return mounted;
}

describe("what is read", () => {
  test("is asked once for all who want it at a time, and shown to all of them", async () => {
    const seen: Ref<string | undefined>[] = [];
    const reads = () => seen.push(useRead(() => ({ key: ["one"], query: () => ask("one") })).answer);
    page(() => (reads(), reads()));
    await settled();
    expect(asked).toHaveLength(1);
    asked[0]!.answer("yes");
    await settled();
    expect(seen.map((one) => one.value)).toEqual(["yes", "yes"]);
  });

  test("an answer that came with a change is shown; the one on its way does not take it back", async () => {
    let read!: ReturnType<typeof useRead<string>>;
    page(() => (read = useRead(() => ({ key: ["list"], query: () => ask("list") }))));
    await settled();
    asked[0]!.answer("before");
    await settled();
    void read.again();
    await settled();
    read.show("after the change");
    asked[1]!.answer("before");
    await settled();
    expect(read.answer.value).toBe("after the change");
  });

  test("a refusal is a sentence; that the program is away is none, and all is asked anew once it is back", async () => {
    let read!: ReturnType<typeof useRead<string>>;
    page(() => (read = useRead(() => ({ key: ["one"], query: () => ask("one") }))));
    await settled();
    asked[0]!.refuse(new Problem("unreachable", 0, "does not answer"));
    await settled();
    expect([read.refusal.value, program.missed]).toEqual(["", 1]);
    program.back();
    await settled();
    asked[1]!.refuse(new Problem("gone", 404, "There is no such list."));
    await settled();
    expect(read.refusal.value).toBe("There is no such list.");
    expect(program.missed).toBe(1);
  });

  test("another question is not answered by the one before", async () => {
    const of = reactive({ name: "a" });
    let read!: ReturnType<typeof useRead<string>>;
    page(() => (read = useRead(() => ({ key: [of.name], query: () => ask(of.name) }))));
    await settled();
    of.name = "b";
    await settled();
    asked[1]!.answer("of b");
    await settled();
    asked[0]!.answer("of a");
    await settled();
    expect(read.answer.value).toBe("of b");
  });
});

describe("what follows from the decisions of a shot", () => {
  /** A shot of three stills that is open, as far as reading needs it. */
  function opened(id = 5) {
    setActivePinia(pinia);
    const shot = useShot();
    shot.shot = { id } as never;
    shot.stills = { stills: [{ id: 1 }, { id: 2 }, { id: 3 }], state: "s" } as never;
    return shot;
  }

  test("a still that is left while it is asked about does not win over the one that is looked at", async () => {
    const into = shallowRef<string>();
    const shot = opened();
    page(() => useDerived("tone", (of) => ask(of.still), { into, ofStill: true }));
    await settled();
    shot.current = 2;
    await settled();
    expect(asked.map((one) => one.of)).toEqual([0, 2]);
    asked[1]!.answer("of the third");
    await settled();
    asked[0]!.answer("of the first");
    await settled();
    expect(into.value).toBe("of the third");
  });

  test("nothing of one shot stands beside another, however late its answer comes", async () => {
    const into = shallowRef<string>();
    const shot = opened(5);
    page(() => useDerived("course", (of) => ask(of.shot), { into }));
    await settled();
    asked[0]!.answer("of five");
    await settled();
    expect(into.value).toBe("of five");
    shot.shot = { id: 6 } as never;
    await nextTick();
    expect(into.value).toBeUndefined();
    await settled();
    expect(asked[1]!.of).toBe(6);
    shot.shot = { id: 5 } as never;
    await settled();
    asked[1]!.answer("of six");
    await settled();
    expect(into.value).not.toBe("of six");
  });

  test("the last answer stands while the program is away, and a newer one is fetched once it is back", async () => {
    const into = shallowRef<string>();
    const shot = opened();
    page(() => useDerived("course", () => ask("course"), { into }));
    await settled();
    asked[0]!.answer("first");
    await settled();
    shot.tailVersion += 1;
    await settled();
    asked[1]!.refuse(new Problem("unreachable", 0, "does not answer"));
    await settled();
    expect(into.value).toBe("first");
    program.back();
    await settled();
    asked[2]!.answer("second");
    await settled();
    expect(into.value).toBe("second");
  });

  test("it is asked once a thing that is dragged rests, of what it is by then", async () => {
    const shot = opened();
    page(() => useDerived("still", (of) => ask(of.still), { ofStill: true, every: 250 }));
    await settled();
    for (const at of [1, 2, 1, 2]) {
      shot.current = at;
      await vi.advanceTimersByTimeAsync(100);
    }
    expect(asked).toHaveLength(1);
    await settled();
    expect(asked.map((one) => one.of)).toEqual([0, 2]);
  });

  test("nothing is asked while nobody looks, and what was known of it is let go of", async () => {
    const into = shallowRef<string>();
    const looked = reactive({ at: false });
    opened();
    page(() => useDerived("mask", () => ask("mask"), { into, wanted: () => looked.at }));
    await settled();
    expect(asked).toHaveLength(0);
    looked.at = true;
    await settled();
    asked[0]!.answer("there");
    await settled();
    expect(into.value).toBe("there");
    looked.at = false;
    await settled();
    expect(into.value).toBeUndefined();
  });
});
