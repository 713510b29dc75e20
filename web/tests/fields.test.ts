// @vitest-environment happy-dom
import { mount } from "@vue/test-utils";
import { describe, expect, test } from "vitest";

import SelectField from "../src/parts/SelectField.vue";

const options = [
  { rate: "24", name: "24", hint: "cinema" },
  { rate: "25", name: "25", hint: "" },
  { rate: null, name: "another", hint: "" },
];

function field(more: object = {}) {
  const mounted = mount(SelectField as never, {
    props: { name: "Rate", value: "25", options, by: "rate", words: "name", hint: "hint", ...more } as never,
  });
  const select = mounted.get("select");
  return { mounted, select, shown: () => select.element.selectedOptions[0]?.text };
}

describe("a list to choose from", () => {
  test("shows what is decided, with its hint where it has one", () => {
    const { mounted, shown } = field();
    expect(shown()).toBe("25");
    expect(mounted.findAll("option").map((one) => one.text())).toEqual(["24 · cinema", "25", "another"]);
  });

  test("gives the value of the option, also one that is none", async () => {
    const { mounted, select } = field();
    await select.setValue("0");
    await select.setValue("2");
    expect(mounted.emitted("change")).toEqual([["24"], [null]]);
  });

  test("shows what is decided, not what was clicked, until that is decided", async () => {
    const { mounted, select, shown } = field();
    await select.setValue("0");
    expect(shown()).toBe("25");
    await mounted.setProps({ value: "24" } as never);
    expect(shown()).toBe("24 · cinema");
  });

  test("says its placeholder while nothing is chosen, and can be chosen from again and again", async () => {
    const { mounted, select, shown } = field({ value: undefined, placeholder: "choose one …" });
    expect(shown()).toBe("choose one …");
    await select.setValue("0");
    expect(shown()).toBe("choose one …");
    await select.setValue("0");
    expect(mounted.emitted("change")).toHaveLength(2);
  });

  test("is called by its name, or by what stands beside it", () => {
    expect(field().select.attributes("aria-label")).toBe("Rate");
    const { mounted, select } = field({ name: undefined, label: "frames per second" });
    expect([select.attributes("aria-label"), mounted.get("span").text()]).toEqual([
      "frames per second",
      "frames per second",
    ]);
  });
});
