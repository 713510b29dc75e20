/** Leading to a control: its part is opened, it gets the focus, and it is shown where it stands. */
import type { Control } from "./controls";

/** How long a sheet may take to have what it offers: some of it is worked out first. */
const waitMs = 15_000;
const heldMs = 3000;
const triesMost = 5;
const shownMs = 1600;
const operable = "input, select, textarea, button, summary, a[href], [role=slider], [tabindex='0']";

/** Wait until the sheet has a control, and go to it; one that is not there for this shot leads to its part alone. */
export async function lead({ section, says }: Control): Promise<void> {
  if (section) (await inSheet((sheet) => buttonCalled(sheet, section)))?.click();
  const place = await inSheet((sheet) => called(sheet, says));
  if (!place) return;
  goTo(place);
  await hold(place, says);
}

/**
 * Go there again if the place is taken from under the focus: what a sheet is told a moment later may draw it anew, and
 * a dialog gives the focus back as it closes. Whoever does something meanwhile is left alone.
 */
async function hold(place: HTMLElement, says: string): Promise<void> {
  const acted = new AbortController();
  for (const deed of ["pointerdown", "keydown"])
    window.addEventListener(deed, () => acted.abort(), { capture: true, once: true, signal: acted.signal });
  const until = performance.now() + heldMs;
  let tries = 0;
  while (performance.now() < until && tries < triesMost && !acted.signal.aborted) {
    await new Promise(requestAnimationFrame);
    const sheet = document.querySelector(".sheet");
    if (document.querySelector(".p-dialog") || !sheet || sheet.contains(document.activeElement)) continue;
    const again = place.isConnected ? place : called(sheet, says);
    if (!again) continue;
    goTo(again);
    tries += 1;
  }
  acted.abort();
}

function goTo(place: HTMLElement): void {
  document.querySelectorAll(".led-to").forEach((one) => one.classList.remove("led-to"));
  const folded = place.closest("details");
  if (folded) folded.open = true;
  const control = place.matches(operable) ? place : (place.querySelector<HTMLElement>(operable) ?? place);
  // What cannot be used now, or is a heading, has what stands around it to go on from.
  const target = canBeUsed(control) ? control : (place.closest<HTMLElement>("section, fieldset, div") ?? place);
  if (target !== control) target.tabIndex = -1;
  place.scrollIntoView({ block: "center" });
  target.focus({ preventScroll: true });
  place.classList.add("led-to");
  window.setTimeout(() => place.classList.remove("led-to"), shownMs);
}

/** Look for something in the sheet until it is there, as long as a sheet may take to come. */
function inSheet<Found>(look: (sheet: Element) => Found | undefined): Promise<Found | undefined> {
  const until = performance.now() + waitMs;
  return new Promise((done) => {
    function again(): void {
      // A dialog keeps the focus until it has faded away, and then gives it back.
      const sheet = document.querySelector(".p-dialog") ? null : document.querySelector(".sheet");
      const found = sheet ? look(sheet) : undefined;
      if (found !== undefined || performance.now() > until) done(found);
      else requestAnimationFrame(again);
    }
    again();
  });
}

function buttonCalled(sheet: Element, name: string): HTMLElement | undefined {
  return [...sheet.querySelectorAll<HTMLElement>("button")].find((one) => textOf(one) === name);
}

function called(sheet: Element, says: string): HTMLElement | undefined {
  const all = [...sheet.querySelectorAll<HTMLElement>("label, button, summary, legend, h2, h3, [aria-label]")];
  const wanted = says.toLowerCase();
  const begins = all.filter((one) => isShown(one) && namesOf(one).some((name) => name.startsWith(wanted)));
  // What says it and nothing more comes first: “level” is not “level along a line”.
  return begins.find((one) => namesOf(one).includes(wanted)) ?? begins[0];
}

function namesOf(one: HTMLElement): string[] {
  return [one.getAttribute("aria-label") ?? "", textOf(one)].map((name) =>
    name.toLowerCase().replace(/^[^\p{L}\p{N}]+/u, ""),
  );
}

function textOf(one: HTMLElement): string {
  return (one.textContent ?? "").trim().replace(/\s+/g, " ");
}

function canBeUsed(control: HTMLElement): boolean {
  return control.matches(operable) && !control.matches(":disabled");
}

/** A group whose choices are still being asked for has no height, and cannot take the focus. */
function isShown(one: HTMLElement): boolean {
  return [...one.getClientRects()].some((part) => part.width > 0 && part.height > 0);
}
