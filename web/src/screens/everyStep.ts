import { defineAsyncComponent, type Component } from "vue";

import { check } from "../steps/check/step";
import { encode } from "../steps/encode/step";
import { fit } from "../steps/fit/step";
import { gather } from "../steps/gather/step";
import { light } from "../steps/light/step";
import { move } from "../steps/move/step";
import { order } from "../steps/order/step";
import { pace } from "../steps/pace/step";
import type { ShotStep } from "../steps/shotStep";
import { steps, type Step } from "../stores/steps";

export const every: Record<Step, ShotStep> = { gather, order, check, light, fit, move, pace, encode };

/** Return something of each step. */
export function ofEach<Made>(make: (one: ShotStep) => Made): Record<Step, Made> {
  return Object.fromEntries(steps.map((step) => [step, make(every[step])])) as Record<Step, Made>;
}

/** The sheets, each fetched when it is opened, again and again while the program does not answer. */
export const sheets = ofEach<Component>(({ load }) =>
  defineAsyncComponent({
    loader: load,
    onError: (_error, retry, _fail, attempts) => void setTimeout(retry, Math.min(5000, 300 * attempts)),
  }),
);
