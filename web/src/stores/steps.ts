/** The steps of the job that do something, in working order. */
export const steps = ["gather", "order", "check", "light", "fit", "move", "pace", "encode"] as const;

export type Step = (typeof steps)[number];

export function isStep(value: unknown): value is Step {
  return steps.includes(value as Step);
}
