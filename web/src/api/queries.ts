/** What pages read and do not decide: fetched once for all who want it, kept by its key, the newest answer first. */
import { PiniaColada, PiniaColadaQueryHooksPlugin, useQuery, useQueryCache, type EntryKey } from "@pinia/colada";
import { computed, ref, type App, type ComputedRef, type Ref } from "vue";

import { onBack, openSoon } from "./events";
import { Problem } from "./http";

export interface Read<Answer> {
  /** The newest answer; while it is fetched anew, the one before. */
  answer: Ref<Answer | undefined>;
  /** Why there is none, in a sentence; that the program does not answer is told in the head of the page. */
  refusal: ComputedRef<string>;
  /** Ask anew, whatever is known. */
  again: () => Promise<void>;
  /** Take over an answer that came with something else, such as a change of the list. */
  show: (answer: Answer) => void;
}

/** Let an application ask; whatever is on a page is asked anew once the program answers again. */
export function useQueries(app: App): void {
  app.use(PiniaColada, {
    // The program tells by itself what has changed: a window that is looked at again need not ask.
    queryOptions: { refetchOnWindowFocus: false, refetchOnReconnect: false, staleTime: 0, gcTime: 60_000 },
    plugins: [PiniaColadaQueryHooksPlugin({ onError: (error) => isUnreachable(error) && openSoon() })],
  });
  const cache = useQueryCache();
  onBack(() => void cache.invalidateQueries().catch(() => undefined));
}

export function isUnreachable(error: unknown): boolean {
  return error instanceof Problem && error.status === 0;
}

/** Read something for as long as the component lives; `options` may follow what is looked at. */
export function useRead<Answer>(
  options: () => { key: EntryKey; query: () => Promise<Answer>; wanted?: boolean; gcTime?: number },
): Read<Answer> {
  const cache = useQueryCache();
  const query = useQuery<Answer>(() => {
    const { wanted = true, ...asked } = options();
    return { ...asked, enabled: wanted };
  });
  return {
    answer: query.data,
    refusal: computed(() => sentence(query.error.value)),
    again: async () => void (await query.refetch()),
    show(answer) {
      const { key } = options();
      // What is on its way was asked for before the change.
      cache.cancelQueries({ key, exact: true });
      cache.setQueryData(key, answer as never);
    },
  };
}

/** Read a list as somebody is about to choose from it, and anew each time: until then it is not asked for. */
export function useReadOnWish<Answer>(
  options: () => { key: EntryKey; query: () => Promise<Answer>; wanted?: boolean },
) {
  const isAsked = ref(false);
  const read = useRead(() => {
    const { wanted = true, ...asked } = options();
    return { ...asked, wanted: wanted && isAsked.value };
  });
  function ask(): void {
    if (isAsked.value) void read.again();
    else isAsked.value = true;
  }
  return { ...read, ask };
}

function sentence(error: unknown): string {
  if (!error || isUnreachable(error)) return "";
  return error instanceof Problem ? error.message : String(error);
}
