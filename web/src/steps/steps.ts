/** The steps of the job that do something, in working order. */
export const steps = ["gather", "order", "check", "light", "fit", "move", "pace", "encode"] as const;

export type Step = (typeof steps)[number];

export function isStep(value: unknown): value is Step {
  return steps.includes(value as Step);
}

/** Before light and fit are decided on, the stage shows stills as they were shot; from then on, frames of the clip. */
export function showsFrames(step: Step): boolean {
  return step === "light" || step === "fit" || step === "move" || step === "pace" || step === "encode";
}
