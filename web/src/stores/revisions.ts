import { computed, reactive, ref, shallowRef } from "vue";

import { Problem } from "../api/client";
import { answersAgain } from "../api/events";
import { areAtOdds, isSame, merged } from "./merge";

/** What the program says was decided, and as which revision: a newer one has a higher number. */
export interface Revision<Decided> {
  revision: number;
  decisions: Decided;
}

interface Ways<Decided, Answer extends Revision<Decided>> {
  /** Keep decisions that were made from a revision; refuses with a 409 where there is a newer one. */
  keep: (seen: number, wanted: Decided) => Promise<Answer>;
  read: () => Promise<Answer>;
  /**
   * What is to follow before the next change is kept; whether that is the newest tells if nothing else is wanted by
   * now.
   */
  taken?: (answer: Answer, before: Decided | undefined, isNewest: boolean) => Promise<void> | void;
  /** Whether what another window changed leaves every change as it was meant, though it touches the same. */
  isHarmless?: (theirs: Decided, before: Decided) => boolean;
}

interface Change<Decided> {
  make: (now: Decided) => Decided;
}

type Turn<Decided, Answer> = Change<Decided> | { work: (seen: number) => Promise<Answer>; may: () => boolean };

const lost = "The change could not be kept. Try again.";

/**
 * What is decided about one owner, a shot or a reel: what is kept, what is on its way to be, and what is only tried.
 *
 * A change is a function from decisions to decisions, asked once. It shows at once; changes are kept one after another,
 * each made from what is kept by then, so that one that is refused leaves nothing of itself in those that follow. They
 * are always sent to the owner they were made for, whatever is open by then.
 */
export function useRevisions<Decided extends object, Answer extends Revision<Decided>>(ways: Ways<Decided, Answer>) {
  const answer = shallowRef<Answer>();
  const turns = shallowRef<Turn<Decided, Answer>[]>([]);
  const trial = shallowRef<(now: Decided) => Decided>();
  const refusal = ref("");
  let running: Promise<void> = Promise.resolve();

  const kept = computed(() => answer.value?.decisions);
  const revision = computed(() => answer.value?.revision ?? 0);
  const isTrying = computed(() => trial.value !== undefined);
  const isKeeping = computed(() => turns.value.length > 0);
  /** What is kept with every change that is on its way, and what the person sees: with what is being tried over it. */
  const wanted = computed(() =>
    turns.value.reduce((now, turn) => (now && "make" in turn ? turn.make(now) : now), kept.value),
  );
  const shown = computed(() => (trial.value && wanted.value ? trial.value(wanted.value) : wanted.value));

  /**
   * Carry a change out on what is shown, and return what it changed, to be made of whatever is kept by then. It is
   * asked once: what a component says of it may be about another thing later.
   */
  function recorded(change: (now: Decided) => Decided): (now: Decided) => Decided {
    const [base, changed] = [wanted.value!, change(shown.value!)];
    return (now) => merged(now, base, changed);
  }

  /** Take an answer over; a change that it holds, or that is refused, is on its way no more from the same moment. */
  async function accept(found: Answer, done?: Turn<Decided, Answer>): Promise<void> {
    const before = kept.value;
    answer.value = found;
    turns.value = turns.value.filter((one) => one !== done);
    await ways.taken?.(found, before, !isKeeping.value && !isTrying.value);
  }

  /** Take over what was read, unless something newer is known or wanted by now. */
  function take(found: Answer): boolean {
    if (isKeeping.value || isTrying.value || found.revision < revision.value) return false;
    void accept(found);
    return true;
  }

  function queue(turn: Turn<Decided, Answer>): Promise<void> {
    turns.value = [...turns.value, turn];
    running = running.then(async () => {
      try {
        await perform(turn);
      } catch (error) {
        refusal.value = error instanceof Problem ? error.message : lost;
      }
      turns.value = turns.value.filter((one) => one !== turn);
    });
    return running;
  }

  async function perform(turn: Turn<Decided, Answer>): Promise<void> {
    if ("make" in turn) return keep(turn);
    if (!turn.may()) return;
    refusal.value = "";
    try {
      await accept(await turn.work(revision.value), turn);
    } catch (error) {
      if (isStale(error)) await accept(await ways.read(), turn);
      throw error;
    }
  }

  async function keep(turn: Change<Decided>, tries = 0): Promise<void> {
    const before = kept.value!;
    const made = turn.make(before);
    if (isSame(made, before)) return;
    let found: Answer;
    try {
      found = await ways.keep(revision.value, made);
    } catch (error) {
      return keepAfter(error, turn, made, tries);
    }
    await accept(found, turn);
  }

  /** Go on after a change was not kept, or nobody knows: by what is decided now it is done, made anew, or given up. */
  async function keepAfter(error: unknown, turn: Change<Decided>, made: Decided, tries: number): Promise<void> {
    const before = kept.value!;
    const isAway = error instanceof Problem && error.status === 0;
    if (!isAway && !isStale(error)) throw error;
    if (isAway) await outage(error);
    const now = await ways.read();
    // What was sent as the program went away may have been kept: then nothing is left to do.
    const isDone = isAway && isSame(now.decisions, made);
    const goesOn = tries < 3 && (!areAtOdds(before, made, now.decisions) || ways.isHarmless?.(now.decisions, before));
    await accept(now, isDone || !goesOn ? turn : undefined);
    if (isDone) return;
    if (!goesOn) throw isAway ? new Problem("stale_revision", 409, changedElsewhere) : error;
    return keep(turn, tries + 1);
  }

  /** Wait until the program answers again, and say so meanwhile. */
  async function outage(problem: Problem): Promise<void> {
    refusal.value = problem.message;
    await answersAgain();
    if (refusal.value === problem.message) refusal.value = "";
  }

  /**
   * Make a change, with what is tried, and keep it as a new revision. Never rejects: `refusal` says why it is not kept.
   */
  function decide(change: (now: Decided) => Decided): Promise<void> {
    if (!wanted.value) return Promise.resolve();
    const make = recorded(change);
    trial.value = undefined;
    refusal.value = "";
    return queue({ make });
  }

  /** Let the program make a change that it works out itself, once what was changed before is kept. */
  function change(work: (seen: number) => Promise<Answer>, may = () => true): Promise<void> {
    void settle();
    return queue({ work, may });
  }

  /** Show a change while it is being made, without keeping it; it goes on from what is tried by now. */
  function tryOut(change: (now: Decided) => Decided): void {
    if (wanted.value) trial.value = recorded(change);
  }

  /** Throw away what is tried. */
  function drop(): void {
    trial.value = undefined;
  }

  /** Keep what is tried, unless that is under way; a key let go of after an undo keeps nothing again. */
  const settle = (): Promise<void> => (isTrying.value ? decide((now) => now) : running);

  return reactive({
    answer,
    kept,
    revision,
    shown,
    isTrying,
    isKeeping,
    refusal,
    take,
    decide,
    change,
    tryOut,
    drop,
    settle,
    ended: () => running,
  });
}

export type Revisions<Decided extends object, Answer extends Revision<Decided>> = ReturnType<
  typeof useRevisions<Decided, Answer>
>;

export const changedElsewhere = "This was changed in another window meanwhile. Look at it, then change it again.";

function isStale(error: unknown): boolean {
  return error instanceof Problem && (error.code === "stale_revision" || error.code === "stale");
}

/**
 * The lines of owners, by their ids: one who comes back to an owner goes on with what is still on its way to be kept.
 */
export function useLines<Line extends { isKeeping: boolean; ended: () => Promise<void> }>(make: (id: number) => Line) {
  const lines = new Map<number, Line>();
  return {
    of(id: number): Line {
      for (const [other, one] of lines) if (other !== id && !one.isKeeping) lines.delete(other);
      const line = lines.get(id) ?? make(id);
      lines.set(id, line);
      return line;
    },
    ended: async (id: number): Promise<void> => lines.get(id)?.ended(),
  };
}
