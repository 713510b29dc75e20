/** What takes space, in words: what can be made again, and what was deleted. */
import type { api, Space } from "../api/client";
import { bytesText } from "../parts/wording";

export type What = Parameters<typeof api.freeSpace>[0];

interface Row {
  what: What;
  words: string;
  bytes: number;
  freed: number;
  after: string;
}

/** What is made again when it is needed, and what of that can be freed. */
export function madeAgain(now: Space): Row[] {
  return [
    {
      what: "chunks",
      words: "Rendered pieces of clips",
      bytes: now.chunks,
      freed: now.chunks,
      after: "The next encode of a shot renders all of it again.",
    },
    {
      what: "together",
      words: "Whole-shot pictures: mean, brightest, darkest, activity",
      bytes: now.together,
      freed: now.together,
      after: "They are put together again when they are looked at.",
    },
    {
      what: "proxies",
      words: "Reduced copies of stills, for looking and playing",
      bytes: now.proxies,
      freed: now.unneeded,
      after: now.unneeded ? `${bytesText(now.unneeded)} of it belong to no still any more.` : "All of them are in use.",
    },
    {
      what: "arriving",
      words: "Uploads that were broken off",
      bytes: now.arriving,
      freed: now.arriving,
      after: "What has arrived of them must be sent again.",
    },
  ];
}

/** What was deleted and can be taken back. */
export function deletedOf(now: Space) {
  return [
    ...now.deleted_projects.map((one) => ({
      ...one,
      kind: "project" as const,
      words: `The project “${one.name}”`,
    })),
    ...now.deleted_shots.map((one) => ({
      ...one,
      kind: "shot" as const,
      words: `The shot “${one.name}” of “${one.inside}”`,
    })),
    ...now.deleted_reels.map((one) => ({
      ...one,
      kind: "reel" as const,
      words: `The reel “${one.name}” of “${one.inside}”`,
    })),
  ];
}

export type Held = Pick<Space["projects"][number], "stills" | "clips" | "sounds" | "films">;

export function allOf(one: Held): number {
  return one.stills + one.clips + one.sounds + one.films;
}

/** What a project has on the disk, in words. */
export function holds(project: Held): string {
  const parts = [
    project.stills && `${bytesText(project.stills)} of copied stills`,
    project.clips && `${bytesText(project.clips)} of clips`,
    project.sounds && `${bytesText(project.sounds)} of sounds`,
    project.films && `${bytesText(project.films)} of films`,
  ];
  return parts.filter(Boolean).join(" and ");
}
