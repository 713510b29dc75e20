import { computed, ref, shallowRef } from "vue";

import { api, Problem, type Planned, type PlannedShot, type Quantity } from "../../api/client";
import { onTold } from "../../api/events";
import { useSentences } from "../../parts/sentences";

/** A project's list of planned shots, and the one that is open; changes are kept as they are said. */
export function usePlans(projectId: () => number) {
  const list = shallowRef<Planned[]>();
  const openId = ref<number>();
  const refusal = ref("");
  const { refused } = useSentences();
  const open = computed(() => list.value?.find((one) => one.id === openId.value));

  async function load(): Promise<void> {
    try {
      list.value = await api.plans(projectId());
    } catch (error) {
      refused(error);
    }
  }

  function take(planned: Planned): void {
    list.value = list.value?.map((one) => (one.id === planned.id ? planned : one));
  }

  // One change after another: the next one is made of what the last one left.
  let under: Promise<void> = Promise.resolve();

  /** Do something to the open one; one that was changed in another tab is shown as it is now, with the sentence. */
  function act(work: (one: Planned) => Promise<Planned>): Promise<void> {
    const id = openId.value;
    return (under = under.then(async () => {
      const one = list.value?.find((other) => other.id === id);
      if (!one) return;
      refusal.value = "";
      try {
        take(await work(one));
      } catch (error) {
        refusal.value = error instanceof Problem ? error.message : String(error);
        if (error instanceof Problem && error.status === 409) await load();
      }
    }));
  }

  const change = (quantity: Quantity, text: string) => act((one) => api.changePlan(one.id, one.number, quantity, text));
  /**
   * Keep a part of the plan as it is worked out from the plan by then: quick changes to one group must not undo each
   * other.
   */
  const keep = (part: (planned: PlannedShot) => Partial<PlannedShot>) =>
    act((one) => api.keepPlan(one.id, one.number, { ...one.planned, ...part(one.planned) }));

  // In turn with the changes: what was asked for before one of them does not take it back.
  onTold("back", () => (under = under.then(load)));

  return { list, openId, open, refusal, load, take, change, keep };
}

/** Each quantity's own words in the sentence: what stands before its field, and after it. */
export const sentence: { quantity: Quantity; before: string; after: string }[] = [
  { quantity: "stills", before: "Take ", after: " stills" },
  { quantity: "interval", before: ", one every ", after: "" },
  { quantity: "shooting", before: ", for ", after: "" },
  { quantity: "rate", before: "; at ", after: "" },
  { quantity: "clip", before: " they give ", after: " of clip" },
  { quantity: "speed", before: ", ", after: " times as fast as life." },
];
