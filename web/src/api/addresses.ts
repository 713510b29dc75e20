/** The addresses of what the browser itself fetches: pictures, pieces of a clip, files to keep. */
import { address, over, reelOver, stateNow } from "./http";
import type { Look, Reel, Still } from "./types";

export type StackKind = "mean" | "brightest" | "darkest" | "activity";
export type TriedRemedy = "bridge" | "repeat" | "fill";

const rounded = (share: number) => Number(share.toFixed(5));

export const addresses = {
  tail: (shot: number, version: number) =>
    address("/api/shots/{shot_id}/tail.png", { path: { shot_id: shot } }, { version }),
  still: (shot: number, still: Still, width: number) =>
    address("/api/shots/{shot_id}/stills/{position}.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow() },
    }),
  thumbnail: (shot: number, still: Still) =>
    address("/api/shots/{shot_id}/stills/{position}/thumbnail.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { ...stateNow() },
    }),
  framed: (shot: number, still: Still, revision: number, change: object, width: number, quickly = false) =>
    address("/api/shots/{shot_id}/stills/{position}/frame.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow(), quickly, ...over(revision, change) },
    }),
  frame: (shot: number, frame: number, revision: number, change: object, width: number, quickly: boolean) =>
    address("/api/shots/{shot_id}/frames/{frame}.jpg", {
      path: { shot_id: shot, frame },
      query: { width, quickly, ...stateNow(), ...over(revision, change) },
    }),
  overlayMask: (shot: number, still: Still, kind: string, revision: number, change: object, width: number) =>
    address("/api/shots/{shot_id}/light/stills/{position}/overlay-mask.png", {
      path: { shot_id: shot, position: still.position },
      query: { kind, width, ...stateNow(), ...over(revision, change) },
    }),
  look: (shot: number, still: Still, look: Look, revision: number, width: number) =>
    address("/api/shots/{shot_id}/light/stills/{position}/look.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow(), revision, name: look.name, look: look.id ?? undefined },
    }),
  cube: (shot: number, still: Still, revision: number) =>
    address("/api/shots/{shot_id}/light/stills/{position}/light.cube", {
      path: { shot_id: shot, position: still.position },
      query: { revision },
    }),
  around: (shot: number, still: Still, revision: number, change: object, width: number) =>
    address("/api/shots/{shot_id}/fit/stills/{position}/around.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow(), ...over(revision, change) },
    }),
  wholeAround: (shot: number, kind: StackKind, first: number, last: number, revision: number, change: object) =>
    address("/api/shots/{shot_id}/fit/stack/{kind}.jpg", {
      path: { shot_id: shot, kind },
      query: { first, last, ...over(revision, change) },
    }),
  reelFrame: (
    reel: number,
    frame: number,
    revision: number,
    tried: Reel | undefined,
    width: number,
    quickly: boolean,
  ) =>
    address("/api/reels/{reel_id}/frames/{frame}.jpg", {
      path: { reel_id: reel, frame },
      query: { width, quickly, ...reelOver(revision, tried) },
    }),
  reelTail: (reel: number, revision: number) =>
    address("/api/reels/{reel_id}/tail.png", { path: { reel_id: reel }, query: { revision } }),
  reelSound: (key: string, first: number, frames: number) =>
    address("/api/reel-sound/{key}/{first}-{count}.mp4", { path: { key, first, count: frames } }),
  reelList: (reel: number, kind: "otio" | "edl" | "vtt") =>
    address("/api/reels/{reel_id}/reel.{kind}", { path: { reel_id: reel, kind } }),
  segment: (key: string) => address("/api/segments/{key}.mp4", { path: { key } }),
  presets: address("/api/presets.json", {}),
  mended: (shot: number, still: Still, revision: number, width: number) =>
    address("/api/shots/{shot_id}/stills/{position}/used.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow(), revision },
    }),
  tried: (
    shot: number,
    still: Still,
    revision: number,
    remedy: TriedRemedy,
    of: { first: number; last: number },
    width: number,
  ) =>
    address("/api/shots/{shot_id}/stills/{position}/try.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow(), revision, remedy, first: of.first, last: of.last },
    }),
  difference: (shot: number, still: Still, width: number) =>
    address("/api/shots/{shot_id}/stills/{position}/difference.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow() },
    }),
  clipped: (shot: number, still: Still, width: number) =>
    address("/api/shots/{shot_id}/stills/{position}/clipped.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { width, ...stateNow() },
    }),
  spot: (shot: number, still: Still, x: number, y: number, width: number, height: number, revision = 0) =>
    address("/api/shots/{shot_id}/stills/{position}/spot.jpg", {
      path: { shot_id: shot, position: still.position },
      query: { ...stateNow(), x: rounded(x), y: rounded(y), width, height, revision },
    }),
  whole: (shot: number, kind: StackKind, first: number, last: number, of: string, ending: "jpg" | "png" = "jpg") =>
    address(
      "/api/shots/{shot_id}/stack/{kind}.{ending}",
      { path: { shot_id: shot, kind, ending }, query: { first, last } },
      { of },
    ),
  planList: (project: number, format: "csv" | "ics") =>
    address(`/api/projects/{project_id}/plans.${format}`, { path: { project_id: project } }),
  list: (shot: number, format: "csv" | "otio") =>
    address(`/api/shots/{shot_id}/list.${format}`, { path: { shot_id: shot } }),
  clip: (clip: number) => address("/api/clips/{clip_id}/file", { path: { clip_id: clip } }),
  shotFile: (shot: number) => address("/api/shots/{shot_id}/shot.json", { path: { shot_id: shot } }),
  reelFile: (reel: number) => address("/api/reels/{reel_id}/reel.json", { path: { reel_id: reel } }),
  clipFrame: (clip: number, frame: number) =>
    address("/api/clips/{clip_id}/frames/{number}.png", { path: { clip_id: clip, number: frame } }),
  standIn: (clip: number) => address("/api/clips/{clip_id}/stand-in", { path: { clip_id: clip } }),
  poster: (clip: number, frame: number) =>
    address("/api/clips/{clip_id}/poster.jpg", { path: { clip_id: clip }, query: { frame } }),
  download: (clip: number) =>
    address("/api/clips/{clip_id}/file", { path: { clip_id: clip }, query: { download: true } }),
};
