import { useStorage } from "@vueuse/core";
import { computed, inject, provide, ref, watch, type ComputedRef, type InjectionKey, type Ref } from "vue";

import {
  api,
  type Encode,
  type EncodeChoices,
  type EncodeWish,
  type Format,
  type Offers,
  type Owner,
} from "../../api/client";
import { onTold } from "../../api/events";
import { newest } from "../../api/newest";
import { useRead } from "../../api/queries";
import { useSentences } from "../../parts/sentences";

/** What is encoded: a shot or a reel, what is decided about it, and how that is changed. */
export interface Encoding {
  owner: ComputedRef<Owner>;
  encode: ComputedRef<Encode>;
  revision: ComputedRef<number>;
  isReady: ComputedRef<boolean>;
  decide: (change: Partial<Encode>) => Promise<void> | void;
  begin: (wish: EncodeWish) => Promise<void>;
}

export interface Choosing extends Encoding {
  choices: Ref<EncodeChoices | undefined>;
  format: ComputedRef<Format | undefined>;
  offers: Ref<Offers | undefined>;
  /** Formats that are encoded together with the one that is decided. */
  also: Ref<Set<Format["name"]>>;
  every: Ref<boolean>;
  into: Ref<{ location: string; path: string } | undefined>;
  pattern: Ref<string>;
}

const key: InjectionKey<Choosing> = Symbol("encoding");

/** Give the controls below what they decide about; what a clip takes is measured while it is looked at. */
export function provideEncoding(encoding: Encoding): Choosing {
  const { refused, said } = useSentences();
  const { answer: choices, refusal } = useRead(() => ({ key: ["what can be encoded"], query: api.encodeChoices }));
  const offers = ref<Offers>();
  const also = ref(new Set<Format["name"]>());
  const into = ref<{ location: string; path: string }>();
  /** Whether all formats are looked at, not only those for what the clip is for. */
  const every = ref(false);
  const pattern = useStorage("encode-pattern", "");
  const format = computed(() => choices.value?.formats.find((one) => one.name === encoding.encode.value.format));
  const ask = newest(
    () => api.offers(encoding.owner.value, pattern.value),
    (found) => (offers.value = found),
  );
  const look = () => ask().catch(refused);

  async function lookAndMeasure(): Promise<void> {
    await look();
    if (!encoding.isReady.value || (offers.value?.is_complete && !every.value)) return;
    // A refusal says what encoding would say too; it is said there.
    await api.measureOffers(encoding.owner.value, every.value).catch(() => undefined);
  }

  watch([() => encoding.owner.value.id, encoding.revision, encoding.isReady, every], () => void lookAndMeasure(), {
    immediate: true,
  });
  watch(pattern, () => void look());
  watch(
    () => encoding.owner.value.id,
    () => also.value.clear(),
  );
  watch(refusal, (sentence) => sentence && said(sentence));
  onTold("back", () => void lookAndMeasure());
  onTold("sizes", () => void look());
  onTold("job", (job) => job.state === "finished" && (job.kind === "encode" || job.kind === "reel") && void look());

  const choosing = { ...encoding, choices, format, offers, also, every, into, pattern };
  provide(key, choosing);
  return choosing;
}

export function useEncoding(): Choosing {
  return inject(key)!;
}

/** What a trial takes: frames from the first to the one before the end. */
export interface Trial {
  first: number;
  end: number;
  words: string;
}

const TRIAL_S = 2;

/** A trial of the two seconds around a frame. */
export function around(frame: number, frames: number, rate: number): Trial {
  const length = Math.min(frames, Math.round(TRIAL_S * rate) || frames);
  const first = Math.max(0, Math.min(frames - length, frame - Math.floor(length / 2)));
  return { first, end: first + length, words: "two seconds around this frame" };
}

/** The word for a quality. */
export function qualityWord(of: EncodeChoices, crf: number): string {
  return of.qualities.reduce((best, one) => (Math.abs(one.crf - crf) < Math.abs(best.crf - crf) ? one : best)).name;
}
