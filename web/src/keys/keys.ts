import { useEventListener } from "@vueuse/core";

/** Keys and what they do, as shown by `?`. */
export const keyList = [
  { keys: "↑ ↓", does: "one still back or on" },
  { keys: "Shift ↑ ↓", does: "ten stills" },
  { keys: "Home  End", does: "first, last still" },
  { keys: "Space", does: "play, pause (from fit on)" },
  { keys: "← →", does: "one frame of the clip back or on; with Shift a second" },
  { keys: "← → ↑ ↓", does: "on the picture in fit: move it by a pixel, with Shift by ten" },
  { keys: "X", does: "set the still or the stretch aside, or bring it back" },
  { keys: "← → ↑ ↓", does: "among all stills: to another one; with Shift a run is chosen; Enter shows it large" },
  { keys: "[  ]", does: "start, end of a stretch; Esc lets it go, and leaves a special look" },
  { keys: "Z", does: "real pixels at the pointer, staying there while stepping" },
  { keys: "L", does: "in light: show the picture without it" },
  { keys: "B", does: "in check: blink against the last still kept; from fit on: flip to the earlier revision" },
  { keys: "G", does: "guides over the frame" },
  { keys: "F", does: "the stage on the full screen" },
  { keys: "N  P", does: "next, previous finding" },
  { keys: "1 … 8", does: "the steps, from gather to encode" },
  { keys: "← → ↑ ↓", does: "on what can be dragged: move it, with Shift ten times as far, with Alt a tenth" },
  { keys: "Esc", does: "while something is dragged: leave it where it was" },
  { keys: "Enter", does: "on a title: write in it" },
  { keys: "Shift ↑ ↓", does: "on a part of a reel: earlier, later" },
  { keys: "Ctrl Z", does: "undo; with Shift, or Ctrl Y: redo" },
  { keys: "Enter", does: "the step's main action" },
  { keys: "Tab", does: "through the parts of the brief and the sheet" },
  { keys: "/", does: "in a shot: find a control by a word for it" },
  { keys: "?", does: "this list" },
] as const;

const typedInto =
  "input:not([type=radio], [type=checkbox], [type=color]), textarea, select, [contenteditable=true], " +
  "[role=slider]:not(.tail-body, .bar)";
/** What lies open over the page has the keys; while a dialog fades away it is closed. */
const openOver = ".p-popover, .p-dialog:not(.p-dialog-leave-active)";
const pressed = "button, a, summary, video, [role=button], [type=checkbox], [type=radio], [type=color]";

/** Whether what has the focus got it by a click; after that the space bar is free to play. */
let isClicked = false;
window.addEventListener("pointerdown", () => (isClicked = true), true);
window.addEventListener("keydown", (event) => event.key === "Tab" && (isClicked = false), true);

/** A closed list that was clicked lets go of the space bar too: it would open once more. */
window.addEventListener(
  "keydown",
  (event) => {
    const target = event.target as HTMLElement;
    if (event.key !== " " || !isClicked || !event.isTrusted || !target.closest("select")) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    target.blur();
    document.body.dispatchEvent(new KeyboardEvent("keydown", { key: " ", bubbles: true, cancelable: true }));
  },
  true,
);

/** Keys typed into a field, or meant for the control that has the focus, are not commands. */
function isTaken(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  if (event.key === " " && isClicked && target.closest("[role=slider]")) return false;
  if (target.closest(typedInto) || target.closest(openOver)) return true;
  if (target.closest("[type=radio]") && event.key.startsWith("Arrow")) return true;
  if (event.key === " ") return !isClicked && target.closest(pressed) !== null;
  return event.key === "Enter" && target.closest(pressed) !== null;
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
