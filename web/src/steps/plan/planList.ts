import { ref } from "vue";

import { api, type PlannedShot } from "../../api/client";
import { useSentences } from "../../parts/sentences";
import { putAt } from "../../parts/sorting";
import type { usePlans } from "./plan";

/** What is done to the list of planned shots: put on, taken off and put back, moved; `show` opens one of them. */
export function usePlanList(
  projectId: () => number,
  { list, open, load }: ReturnType<typeof usePlans>,
  show: (id: number | undefined) => Promise<unknown>,
) {
  const { refused } = useSentences();
  const deleted = ref<{ id: number; name: string }>();
  const asShot = ref("");

  async function act(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      refused(error);
    }
  }

  function add(planned: Partial<PlannedShot>): Promise<void> {
    return act(async () => {
      const made = await api.addPlan(projectId(), planned);
      list.value = [...(list.value ?? []), made];
      asShot.value = "";
      await show(made.id);
    });
  }

  function after(shot: number): Promise<void> {
    return act(async () => {
      const made = await api.planAsShot(shot);
      list.value = [...(list.value ?? []), made.plan];
      await show(made.plan.id);
      asShot.value = made.sentence;
    });
  }

  function remove(): Promise<void> {
    return act(async () => {
      const one = open.value!;
      const at = list.value!.indexOf(one);
      await api.deletePlan(one.id);
      deleted.value = { id: one.id, name: one.planned.name };
      list.value = list.value!.filter((other) => other !== one);
      const next = list.value[at] ?? list.value[at - 1];
      if (next) await show(next.id);
      else await show(undefined);
    });
  }

  function takeBack(): Promise<void> {
    return act(async () => {
      await api.takePlanBack(deleted.value!.id);
      await load();
      await show(deleted.value!.id);
      deleted.value = undefined;
    });
  }

  function step(by: number): Promise<void> {
    return act(async () => {
      const at = list.value!.indexOf(open.value!);
      if (at + by < 0 || at + by >= list.value!.length) return;
      const order = putAt(list.value!, open.value, at + by);
      list.value = await api.orderPlans(
        projectId(),
        order.map((one) => one.id),
      );
    });
  }

  return { deleted, asShot, act, add, after, remove, takeBack, step };
}
