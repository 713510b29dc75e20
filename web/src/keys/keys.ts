import { useEventListener } from "@vueuse/core";

/** Keys and what they do, as shown by `?`. */
export const keyList = [
  { keys: "↑ ↓", does: "one still back or on" },
  { keys: "Shift ↑ ↓", does: "ten stills" },
  { keys: "Home  End", does: "first, last still" },
  { keys: "X", does: "set the still or the stretch aside, or bring it back" },
  { keys: "[  ]", does: "start, end of a stretch; Esc lets it go, and leaves a special look" },
  { keys: "Z", does: "real pixels at the pointer, staying there while stepping" },
  { keys: "B", does: "blink against the last still kept" },
  { keys: "F", does: "the stage on the full screen" },
  { keys: "N  P", does: "next, previous finding" },
  { keys: "1 … 6", does: "the steps, from gather to encode" },
  { keys: "Ctrl Z", does: "undo; with Shift, or Ctrl Y: redo" },
  { keys: "Enter", does: "the step's main action" },
  { keys: "Tab", does: "through the parts of the brief and the sheet" },
  { keys: "?", does: "this list" },
] as const;

const typedInto =
  "input:not([type=radio]), textarea, select, [contenteditable=true], [role=combobox], [role=listbox], " +
  "[role=slider]:not(.tail-body)";

/** Keys typed into a field, or meant for the control that has the focus, are not commands. */
function isTaken(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  if (target.closest(typedInto) || target.closest(".p-popover, .p-dialog")) return true;
  if (target.closest("[type=radio]")) return event.key.startsWith("Arrow");
  return event.key === "Enter" && target.closest("button, a, video, [role=button]") !== null;
}

/** Call `act` for keys that are commands; it returns whether it used the key. */
export function onKey(act: (event: KeyboardEvent) => boolean): void {
  useEventListener(window, "keydown", (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || isTaken(event)) return;
    if (act(event)) event.preventDefault();
  });
}

/** Call `undo` and `redo` for the keys every program has for them, unless a text is being written. */
export function onUndo(undo: () => void, redo: () => void): void {
  useEventListener(window, "keydown", (event: KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
    if ((event.target as HTMLElement).closest("input:not([type=radio], [type=checkbox]), textarea")) return;
    const key = event.key.toLowerCase();
    if (key !== "z" && key !== "y") return;
    event.preventDefault();
    if (key === "y" || event.shiftKey) redo();
    else undo();
  });
}
