/** The steps of the job that do something, in working order. */
export const steps = ["gather", "order", "check", "fit", "pace", "encode"] as const;

export type Step = (typeof steps)[number];

export function isStep(value: unknown): value is Step {
  return steps.includes(value as Step);
}

/** Before the fit is decided on, the stage shows stills as they were shot; from then on, frames of the clip. */
export function showsFrames(step: Step): boolean {
  return step === "fit" || step === "pace" || step === "encode";
}
