/** Leading to a control: its part is opened, it gets the focus, and it is shown where it stands. */
import { findingIsOpen } from "../keys/finding";
import type { Control } from "./controls";

/** How long a sheet may take to have what it offers: some of it is worked out first. */
const waitMs = 15_000;
const settledMs = 400;
const shownMs = 1600;
const operable = "input, select, textarea, button, summary, a[href], [role=slider], [tabindex='0']";

/** Wait until the sheet has a control, and go to it; one that is not there for this shot leads to its part alone. */
export async function lead({ section, says }: Control): Promise<void> {
  if (section) (await inSheet((sheet) => buttonCalled(sheet, section)))?.click();
  const place = await inSheet((sheet) => called(sheet, says));
  if (!place) return;
  goTo(place);
  // What the sheet is told a moment later may take the control's place, and a dialog gives the focus back as it closes.
  await new Promise((later) => window.setTimeout(later, settledMs));
  const sheet = document.querySelector(".sheet");
  if (findingIsOpen.value || !sheet || sheet.contains(document.activeElement)) return;
  goTo(called(sheet, says) ?? place);
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
      const sheet = document.querySelector(".sheet");
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

function isShown(one: HTMLElement): boolean {
  return one.getClientRects().length > 0;
}
