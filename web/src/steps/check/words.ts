import type { Finding, Remedy } from "../../api/client";

/** What each kind of finding is called: one of them, and several. */
export const kindWords: Record<Finding["kind"], [one: string, several: string]> = {
  misfire: ["misfire", "misfires"],
  "blocked view": ["blocked view", "blocked views"],
  damaged: ["damaged file", "damaged files"],
  soft: ["loss of sharpness", "losses of sharpness"],
  "lasting softness": ["lasting loss of sharpness", "lasting losses of sharpness"],
  knock: ["knock", "knocks"],
  missing: ["gap", "gaps"],
  pause: ["pause", "pauses"],
  "exposure step": ["exposure step", "exposure steps"],
  "light step": ["light switched", "lights switched"],
  "colour step": ["change of white balance", "changes of white balance"],
  flicker: ["stretch that flickers", "stretches that flicker"],
  "lamp bands": ["stretch with bands of lamp light", "stretches with bands of lamp light"],
  "auto exposure": ["stretch of auto exposure", "stretches of auto exposure"],
  "blinking lamp": ["lamp that blinks", "lamps that blink"],
  shake: ["stretch that shakes", "stretches that shake"],
  "by hand": ["shot carried by hand", "shots carried by hand"],
  "other kind": ["still of another kind", "stills of another kind"],
  extra: ["extra still", "extra stills"],
  dirt: ["spot of dirt", "spots of dirt"],
  "nothing happens": ["stretch without change", "stretches without change"],
};

/** What a button for a remedy says. */
export const remedyWords: Record<Remedy, string> = {
  "set aside": "set aside",
  bridge: "bridge",
  repeat: "repeat the last",
  fill: "put in",
  "begin here": "begin here",
  "end here": "end here",
  "even out": "even out",
  remove: "remove",
  dismiss: "leave it",
};

/** What a remedy does, for who wants to know before. */
export const remedyHints: Record<Remedy, string> = {
  "set aside": "The clip leaves these stills out; the files stay.",
  bridge: "The clip shows a picture made from the sound stills before and after.",
  repeat: "The clip shows the sound still before once more.",
  fill: "Pictures made from the stills around the gap are put in.",
  "begin here": "The clip begins here; what comes before is not used.",
  "end here": "The clip ends here; what comes after is not used.",
  "even out": "The light of all stills is made even; see it in light.",
  remove: "What the spot takes of the light is measured over the shot and given back in every still.",
  dismiss: "Nothing is done, and this is not mentioned again.",
};

/** Remedies that can be seen on the stage before they are applied. */
export function canBeTried(remedy: Remedy): remedy is "bridge" | "repeat" | "fill" {
  return remedy === "bridge" || remedy === "repeat" || remedy === "fill";
}
