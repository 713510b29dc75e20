import { computed, onBeforeUnmount, reactive, watch } from "vue";

import type { Still } from "../api/client";
import { ratingWords, REJECTED } from "../parts/rating";
import { countText } from "../parts/wording";
import { useShot } from "../stores/shot";

export type RatingWish = "all" | "rated" | "unrated" | "rejected" | "2" | "3" | "4" | "5";

/** Which stills of a shot the sheet shows: all, or those of a rating and a label. */
export function useShownStills() {
  const shot = useShot();
  const wish = reactive({ rating: "all" as RatingWish, label: "" });

  const labels = computed(() => {
    const counts = new Map<string, number>();
    for (const { label } of shot.stills.stills) if (label) counts.set(label, (counts.get(label) ?? 0) + 1);
    return [...counts].map(([label, stills]) => ({ label, words: `${label} · ${countText(stills, "still")}` }));
  });
  const hasFilter = computed(() => shot.ratings.size > 0 || labels.value.length > 0);
  const isFiltered = computed(() => hasFilter.value && (wish.rating !== "all" || wish.label !== ""));
  const stills = computed(() => (isFiltered.value ? shot.stills.stills.filter(matches) : shot.stills.stills));
  /** Where each still that is shown stands among them. */
  const places = computed(() => new Map(stills.value.map((still, place) => [still.position, place])));

  function matches(still: Still): boolean {
    const rating = shot.ratings.get(still.id) ?? 0;
    if (wish.label && still.label !== wish.label) return false;
    if (wish.rating === "all") return true;
    if (wish.rating === "rated") return rating > 0;
    if (wish.rating === "unrated") return rating === 0;
    if (wish.rating === "rejected") return rating === REJECTED;
    return rating >= Number(wish.rating);
  }

  /** The place of a still, or of the first that is shown after it. */
  function placeOf(position: number): number {
    if (!isFiltered.value) return position;
    const place = places.value.get(position) ?? stills.value.findIndex((still) => still.position >= position);
    return place < 0 ? Math.max(0, stills.value.length - 1) : place;
  }

  /** The position of the still so many further on. */
  function from(position: number, step: number): number {
    const place = Math.max(0, Math.min(stills.value.length - 1, placeOf(position) + step));
    return stills.value[place]?.position ?? position;
  }

  function wishFor(change: Partial<typeof wish>): void {
    Object.assign(wish, change);
  }

  const options = [
    { rating: "all" as RatingWish, words: "all ratings" },
    { rating: "rated" as RatingWish, words: "rated" },
    ...[2, 3, 4, 5].map((stars) => ({
      rating: `${stars}` as RatingWish,
      words: stars < 5 ? `${ratingWords(stars)} and more` : ratingWords(stars),
    })),
    { rating: "unrated" as RatingWish, words: "not rated" },
    { rating: "rejected" as RatingWish, words: "rejected" },
  ];

  watch(
    [isFiltered, stills],
    () => (shot.only = isFiltered.value ? new Set(stills.value.map((still) => still.id)) : undefined),
  );
  onBeforeUnmount(() => (shot.only = undefined));

  return reactive({ wish, options, labels, hasFilter, isFiltered, stills, placeOf, from, wishFor });
}

export type ShownStills = ReturnType<typeof useShownStills>;
