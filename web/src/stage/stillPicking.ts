import { ref } from "vue";

import { api, type Still } from "../api/client";
import { useShot } from "../stores/shot";

/** Choosing stills by clicks and Shift wherever they are listed, and dragging those that are chosen elsewhere. */
export function useStillPicking() {
  const shot = useShot();
  const dropAt = ref<number>();
  let dragged: Still[] = [];
  /** Where a run that is extended by keys or by Shift began. */
  let anchor: number | undefined;

  /** A run that was let go of, or chosen elsewhere since, does not begin where the one before did. */
  function beginOf(position: number): number {
    const run = shot.stretch;
    if (run && anchor !== undefined && (anchor === run.first || anchor === run.last)) return anchor;
    return run && run.first < position ? run.first : shot.current;
  }

  function pick(position: number, extends_: boolean): void {
    if (extends_) {
      anchor = beginOf(position);
      shot.choose(anchor, position);
    } else {
      anchor = undefined;
      shot.stretch = undefined;
    }
    shot.goTo(position);
  }

  function isChosen(position: number): boolean {
    return shot.stretch !== undefined && position >= shot.stretch.first && position <= shot.stretch.last;
  }

  function begin(event: DragEvent, still: Still): void {
    if (!isChosen(still.position)) pick(still.position, false);
    dragged = [...shot.chosen];
    event.dataTransfer!.effectAllowed = "move";
    event.dataTransfer!.setData("text/plain", dragged.map((one) => one.name).join("\n"));
  }

  /** Say where what is dragged would go: before a still, or after it. */
  function over(event: DragEvent, still: Still, isAfter: boolean): void {
    if (!dragged.length) return;
    event.preventDefault();
    dropAt.value = still.position + (isAfter ? 1 : 0);
  }

  async function drop(): Promise<void> {
    const at = dropAt.value;
    end(false);
    if (at === undefined || !dragged.length) return;
    const moved = dragged.map((still) => still.id);
    const to = at - dragged.filter((still) => still.position < at).length;
    await shot.change((id, seen) => api.moveStills(id, seen, moved, to));
    shot.stretch = moved.length > 1 ? { first: to, last: to + moved.length - 1 } : undefined;
    shot.goTo(to);
  }

  function end(isDone = true): void {
    dropAt.value = undefined;
    if (isDone) dragged = [];
  }

  return { dropAt, pick, isChosen, begin, over, drop, end };
}
