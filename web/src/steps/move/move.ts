import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { api, type Decisions, type Travel, type UsualMove } from "../../api/client";
import { useClip } from "../../playback/clip";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";

export type Move = Decisions["move"];
export type ViewAt = Move["views"][number];

export const sections = ["travel", "steady", "miniature look"] as const;

/** How the view travels: what is decided, which of its views is worked on, and what comes of it. */
export const useMove = defineStore("move", () => {
  const shot = useShot();
  const clip = useClip();
  const section = ref<(typeof sections)[number]>("travel");
  const travel = shallowRef<Travel>();
  const chosen = ref(0);
  const move = computed(() => shot.decisions!.move);
  const view = computed<ViewAt | undefined>(() => move.value.views[chosen.value]);

  function with_(change: Partial<ViewAt>): Partial<Move> {
    return { views: move.value.views.map((one, place) => (place === chosen.value ? { ...one, ...change } : one)) };
  }

  const attempt = (change: Partial<ViewAt>) => shot.tryOut({ move: with_(change) });
  const set = (change: Partial<ViewAt>) => shot.decide({ move: with_(change) });

  /** Begin with one of the usual ways. */
  async function begin(name: UsualMove, amount: number): Promise<void> {
    const found = await api.usualMove(shot.shot!.id, shot.revision, shot.tried, name, amount);
    chosen.value = found.views.length - 1;
    await shot.decide({ move: found });
  }

  /** Put a view where the clip is now: between two there are, so that one more place can be pulled. */
  async function add(at: number): Promise<void> {
    const views = move.value.views;
    const after = views.findIndex((one) => one.at > at);
    const [before, next] = [
      views[Math.max(0, (after < 0 ? views.length : after) - 1)]!,
      views[after < 0 ? views.length - 1 : after]!,
    ];
    const share = next.at > before.at ? (at - before.at) / (next.at - before.at) : 0;
    const between = (one: number, other: number) => one + (other - one) * share;
    const added: ViewAt = {
      at: Math.round(at * 1000) / 1000,
      x: between(before.x, next.x),
      y: between(before.y, next.y),
      closeness: between(before.closeness, next.closeness),
      level_deg: between(before.level_deg, next.level_deg),
    };
    const all = [...views.filter((one) => one.at !== added.at), added].sort((one, other) => one.at - other.at);
    await shot.decide({ move: { views: all } });
    choose(all.indexOf(added));
  }

  async function remove(place: number): Promise<void> {
    const left = move.value.views.filter((_, index) => index !== place);
    chosen.value = Math.max(0, Math.min(chosen.value, left.length - 1));
    await shot.decide({ move: { views: left } });
  }

  /** Work on a view, and look at its frame. */
  function choose(place: number): void {
    chosen.value = place;
    const at = move.value.views[place]?.at;
    if (at !== undefined && clip.playback) clip.goTo(Math.round(at * (clip.playback.frames - 1)));
  }

  watch(
    () => shot.shot?.id,
    () => {
      travel.value = undefined;
      chosen.value = 0;
    },
  );
  watch(
    () => move.value?.views.length,
    (count) => (chosen.value = Math.max(0, Math.min(chosen.value, (count ?? 1) - 1))),
  );

  /** Ask anew whenever what is shown or decided changes, as long as somebody looks. */
  function follow(): void {
    useDerived("travel", (of) => api.travel(of.shot, of.revision, of.change), {
      ...{ into: travel, when: "at once", every: 100 },
    });
  }

  return { section, travel, chosen, move, view, attempt, set, begin, add, remove, choose, follow };
});
