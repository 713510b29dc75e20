import { computed, ref, watch, type Ref } from "vue";

import { api, type ClipUnderWay, type TreatedPart, type TriedShot } from "../api/client";
import { onTold } from "../api/events";
import { newest } from "../api/newest";
import { useAttempt } from "../parts/sentences";

export const parts: { part: TreatedPart; words: string }[] = [
  { part: "light", words: "light" },
  { part: "fit", words: "fit" },
  { part: "move", words: "move" },
  { part: "pace", words: "pace" },
  { part: "encode", words: "format" },
];

/** Several shots at once: what they would be like another, and their clips in one queue. */
export function useManyShots(project: Ref<number>, ticked: Ref<number[]>, done: () => Promise<void>) {
  const { refusal, attempt } = useAttempt();
  const model = ref<number>();
  const taken = ref<TreatedPart[]>(parts.map((one) => one.part));
  const tried = ref<TriedShot[]>([]);
  const modelSeen = ref(0);
  const making = ref<ClipUnderWay[]>([]);
  const isBusy = ref(false);

  const others = computed(() => ticked.value.filter((shot) => shot !== model.value));
  const treats = computed(() => Boolean(model.value && others.value.length && taken.value.length));
  const changing = computed(() => tried.value.filter((one) => one.changes));
  const clips = computed(() => tried.value.filter((one) => !one.cannot));
  const bytes = computed(() => clips.value.reduce((sum, one) => sum + one.bytes, 0));
  const seconds = computed(() => clips.value.reduce((sum, one) => sum + one.seconds, 0));

  async function ask(): Promise<{ model: number; shots: TriedShot[] }> {
    if (!ticked.value.length) return { model: 0, shots: [] };
    if (!treats.value) return { model: 0, shots: await api.tryClips(project.value, ticked.value) };
    const wish = { model: model.value!, shots: others.value, parts: taken.value };
    const found = await api.tryTreatment(project.value, wish);
    return { model: found.model_seen, shots: found.shots };
  }
  const read = newest(ask, (found) => {
    tried.value = found.shots;
    modelSeen.value = found.model;
  });
  /** What stands there belongs to what is ticked: until it does, nothing is decided by it. */
  const isAsking = ref(0);
  async function look(): Promise<void> {
    isAsking.value += 1;
    await attempt(read);
    isAsking.value -= 1;
  }

  async function once(work: () => Promise<void>): Promise<void> {
    isBusy.value = true;
    await attempt(work);
    // What was changed meanwhile is shown beside the sentence that says so.
    if (refusal.value) await read().catch(() => undefined);
    isBusy.value = false;
  }

  function treat(): Promise<void> {
    return once(async () => {
      await api.treat(project.value, {
        model: { shot: model.value!, seen: modelSeen.value },
        shots: tried.value.map((one) => ({ shot: one.shot_id, seen: one.seen })),
        parts: taken.value,
      });
      // What they are now is what is looked at, and what their clips take.
      model.value = undefined;
      await done();
    });
  }

  /** Begin what can be begun; what is measured first is begun once that is done. */
  function makeClips(): Promise<void> {
    return once(async () => {
      const seen = clips.value.map((one) => ({ shot: one.shot_id, seen: one.seen }));
      making.value = await api.makeClips(project.value, seen);
    });
  }

  watch([project, ticked, model, taken], look, { deep: true, immediate: true });
  watch(ticked, () => (making.value = []), { deep: true });
  onTold("job", (job) => {
    const waits = making.value.some((one) => one.job === null && one.shot_id === job.shot_id);
    if (waits && job.state === "finished") void makeClips();
  });

  return {
    ...{ model, taken, tried, treats, changing, clips, bytes, seconds, making, isAsking, isBusy, refusal },
    ...{ look, treat, makeClips },
  };
}
