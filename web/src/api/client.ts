/** All that the pages ask of the program, a function a question. */
import { fetched, got, http, over, reelOver } from "./http";
import type {
  Action,
  Answers,
  Brief,
  Capture,
  Card,
  CardNames,
  Decisions,
  EncodeChoices,
  EncodeWish,
  FilmFile,
  Followed,
  Fit,
  FitWay,
  Job,
  Logo,
  Look,
  LookPart,
  Mending,
  NamedPattern,
  NewFolder,
  Opened,
  Owner,
  PatternPart,
  Planned,
  PlannedShot,
  Proposals,
  Quantity,
  Reel,
  ReelDetail,
  Remedy,
  Revised,
  RevisedReel,
  Schemas,
  Shot,
  Stroke,
  Suited,
  Taking,
  UsualMove,
  Way,
  Writing,
} from "./types";

export { addresses } from "./addresses";
export { Problem, problemOf, stillsState, unreachable } from "./http";
export type * from "./types";

/** Let the browser keep what an address or some text gives as a file. */
export function saveAs(name: string, source: string | Blob): void {
  const link = document.createElement("a");
  link.href = typeof source === "string" ? source : URL.createObjectURL(source);
  link.download = name;
  link.click();
  if (typeof source !== "string") URL.revokeObjectURL(link.href);
}

async function sendFile<Answer>(path: string, file: File): Promise<Answer> {
  const response = await fetched(`${path}?name=${encodeURIComponent(file.name)}`, { method: "PUT", body: file });
  return (await response.json()) as Answer;
}

/** Send two test stills, one after the other, and have measured how fast things cross the view. */
async function measureCrossing(
  first: File,
  second: File,
  rate: string,
  on_screen_s: number,
  apart_s?: number,
): Promise<Suited> {
  const said = new URLSearchParams({
    first: first.name,
    second: second.name,
    first_bytes: `${first.size}`,
    rate,
    on_screen_s: `${on_screen_s}`,
  });
  if (apart_s) said.set("apart_s", `${apart_s}`);
  const response = await fetched(`/api/plan/crossing?${said}`, { method: "POST", body: new Blob([first, second]) });
  return (await response.json()) as Suited;
}

/** A test still as it can be shown, whatever kind of file it is. */
async function testStill(file: File): Promise<Blob> {
  const response = await fetched(`/api/plan/test-still?name=${encodeURIComponent(file.name)}`, {
    method: "POST",
    body: file,
  });
  return response.blob();
}

/** Have a still look like a picture of it that was developed elsewhere. */
async function followPicture(shot: number, position: number, seen: number, file: File): Promise<Followed> {
  const said = new URLSearchParams({ seen: `${seen}`, name: file.name });
  const address = `/api/shots/${shot}/light/stills/${position}/follow?${said}`;
  return (await (await fetched(address, { method: "POST", body: file })).json()) as Followed;
}

/** What a camera sees now, with how sharp the spot is and how much is clipped. */
async function liveView(
  key: string,
  x: number,
  y: number,
  stripes: boolean,
): Promise<{ picture: Blob; sharpness: number; clipped: number }> {
  const response = await fetched(
    `/api/cameras/live.jpg?key=${encodeURIComponent(key)}&x=${x.toFixed(4)}&y=${y.toFixed(4)}&stripes=${stripes}`,
  );
  return {
    picture: await response.blob(),
    sharpness: Number(response.headers.get("X-Sharpness")),
    clipped: Number(response.headers.get("X-Clipped")),
  };
}

/** Where a spot of dust is and how wide, in shares of the still's width and height. */
export interface DustPlace {
  x: number;
  y: number;
  width: number;
}

export const api = {
  projects: () => got(http.GET("/api/projects")),
  addProject: (name: string) => got(http.POST("/api/projects", { body: { name } })),
  renameProject: (id: number, name: string) =>
    got(http.PUT("/api/projects/{project_id}", { params: { path: { project_id: id } }, body: { name } })),
  project: (id: number) => got(http.GET("/api/projects/{project_id}", { params: { path: { project_id: id } } })),
  locations: () => got(http.GET("/api/locations")),
  nameLocation: (folder: string) => got(http.POST("/api/locations", { body: { folder } })),
  machine: () => got(http.GET("/api/machine")),
  lookAround: (path: string) => got(http.GET("/api/machine/folder", { params: { query: { path } } })),
  folder: (location: string, path: string) =>
    got(http.GET("/api/locations/{name}/folder", { params: { path: { name: location }, query: { path } } })),
  gatherFolder: (project: number, location: string, path: string, copy_files: boolean) =>
    got(
      http.POST("/api/projects/{project_id}/shots", {
        params: { path: { project_id: project } },
        body: { location, path, copy_files },
      }),
    ),
  gatherEach: (project: number, location: string, path: string, copy_files: boolean) =>
    got(
      http.POST("/api/projects/{project_id}/shots/each", {
        params: { path: { project_id: project } },
        body: { location, path, copy_files },
      }),
    ),
  tryTreatment: (project: number, wish: Schemas["TreatmentWish"]) =>
    got(
      http.POST("/api/projects/{project_id}/treatments/try", {
        params: { path: { project_id: project } },
        body: wish,
      }),
    ),
  treat: (project: number, wish: Schemas["Treat"]) =>
    got(http.POST("/api/projects/{project_id}/treatments", { params: { path: { project_id: project } }, body: wish })),
  treatments: (project: number) =>
    got(http.GET("/api/projects/{project_id}/treatments", { params: { path: { project_id: project } } })),
  undoTreatment: (project: number, treatment: number) =>
    got(
      http.POST("/api/projects/{project_id}/treatments/{treatment_id}/undo", {
        params: { path: { project_id: project, treatment_id: treatment } },
      }),
    ),
  tryClips: (project: number, shots: number[]) =>
    got(
      http.POST("/api/projects/{project_id}/clips/try", { params: { path: { project_id: project } }, body: { shots } }),
    ),
  makeClips: (project: number, shots: Schemas["ShotSeen"][]) =>
    got(http.POST("/api/projects/{project_id}/clips", { params: { path: { project_id: project } }, body: { shots } })),
  lost: (project: number) =>
    got(http.GET("/api/projects/{project_id}/lost", { params: { path: { project_id: project } } })),
  find: (project: number, location: string, path: string) =>
    got(
      http.POST("/api/projects/{project_id}/find", {
        params: { path: { project_id: project } },
        body: { location, path },
      }),
    ),
  footage: (film: FilmFile, taking: Taking) => got(http.POST("/api/footage", { body: { ...film, taking } })),
  gatherFootage: (project: number, film: FilmFile, taking: Taking) =>
    got(
      http.POST("/api/projects/{project_id}/footage", {
        params: { path: { project_id: project } },
        body: { ...film, taking },
      }),
    ),
  gatherAgain: (shot: number) => got(http.POST("/api/shots/{shot_id}/gather", { params: { path: { shot_id: shot } } })),
  openUpload: (project: number, announcement: Schemas["Announcement"]) =>
    got(
      http.POST("/api/projects/{project_id}/uploads", {
        params: { path: { project_id: project } },
        body: announcement,
      }),
    ),
  completeFilm: (upload: number) =>
    got(http.POST("/api/uploads/{upload_id}/film", { params: { path: { upload_id: upload } } })),
  completeUpload: (upload: number) =>
    got(http.POST("/api/uploads/{upload_id}/complete", { params: { path: { upload_id: upload } } })),
  shot: (id: number) => got(http.GET("/api/shots/{shot_id}", { params: { path: { shot_id: id } } })) as Promise<Shot>,
  stills: (id: number, since = 0) =>
    got(http.GET("/api/shots/{shot_id}/stills", { params: { path: { shot_id: id }, query: { since } } })),
  order: (id: number) => got(http.GET("/api/shots/{shot_id}/order", { params: { path: { shot_id: id } } })),
  sorting: (id: number) => got(http.GET("/api/shots/{shot_id}/sorting", { params: { path: { shot_id: id } } })),
  sort: (id: number, seen: number, choices: { key: string; action: Action }[]) =>
    got(http.POST("/api/shots/{shot_id}/sorting", { params: { path: { shot_id: id } }, body: { seen, choices } })),
  split: (id: number, before: number[]) =>
    got(http.POST("/api/shots/{shot_id}/split", { params: { path: { shot_id: id } }, body: { before } })),
  splitOff: (id: number, stills: number[]) =>
    got(http.POST("/api/shots/{shot_id}/split-off", { params: { path: { shot_id: id } }, body: { stills } })),
  join: (id: number, other: number) =>
    got(http.POST("/api/shots/{shot_id}/join", { params: { path: { shot_id: id } }, body: { other } })),
  takeOut: (id: number, stills: number[]) =>
    got(http.POST("/api/shots/{shot_id}/take-out", { params: { path: { shot_id: id } }, body: { stills } })),
  bringBack: (id: number) => got(http.POST("/api/shots/{shot_id}/bring-back", { params: { path: { shot_id: id } } })),
  useRaws: (id: number, raws: boolean) =>
    got(http.PUT("/api/shots/{shot_id}/raws", { params: { path: { shot_id: id } }, body: { raws } })),
  renameShot: (id: number, name: string) =>
    got(http.PUT("/api/shots/{shot_id}/name", { params: { path: { shot_id: id } }, body: { name } })),
  deleteShot: (id: number) => got(http.DELETE("/api/shots/{shot_id}", { params: { path: { shot_id: id } } })),
  takeShotBack: (id: number) => got(http.POST("/api/shots/{shot_id}/take-back", { params: { path: { shot_id: id } } })),
  deleteProject: (id: number) =>
    got(http.DELETE("/api/projects/{project_id}", { params: { path: { project_id: id } } })),
  takeProjectBack: (id: number) =>
    got(http.POST("/api/projects/{project_id}/take-back", { params: { path: { project_id: id } } })),
  deleteClip: (id: number) => got(http.DELETE("/api/clips/{clip_id}", { params: { path: { clip_id: id } } })),
  space: () => got(http.GET("/api/space")),
  freeSpace: (what: Schemas["Freed"]["what"]) => got(http.POST("/api/space/free", { body: { what } })),
  moveStills: (id: number, seen: number, stills: number[], to: number) =>
    got(
      http.POST("/api/shots/{shot_id}/order/move", { params: { path: { shot_id: id } }, body: { seen, stills, to } }),
    ) as Promise<Revised>,
  reverseStills: (id: number, seen: number, stills: number[]) =>
    got(
      http.POST("/api/shots/{shot_id}/order/reverse", { params: { path: { shot_id: id } }, body: { seen, stills } }),
    ) as Promise<Revised>,
  setAside: (id: number, seen: number, stills: number[], aside: boolean) =>
    got(
      http.POST("/api/shots/{shot_id}/aside", { params: { path: { shot_id: id } }, body: { seen, stills, aside } }),
    ) as Promise<Revised>,
  undo: (id: number, seen: number) =>
    got(
      http.POST("/api/shots/{shot_id}/undo", { params: { path: { shot_id: id } }, body: { seen } }),
    ) as Promise<Revised>,
  redo: (id: number, seen: number) =>
    got(
      http.POST("/api/shots/{shot_id}/redo", { params: { path: { shot_id: id } }, body: { seen } }),
    ) as Promise<Revised>,
  openList: (id: number, seen: number, format: "csv" | "otio", text: string) =>
    got(
      http.POST("/api/shots/{shot_id}/list", { params: { path: { shot_id: id } }, body: { seen, format, text } }),
    ) as Promise<Opened>,
  patterns: () => got(http.GET("/api/patterns")) as Promise<NamedPattern[]>,
  keepPattern: (name: string, parts: PatternPart[]) =>
    got(http.PUT("/api/patterns", { body: { name, parts } })) as Promise<NamedPattern>,
  forgetPattern: (name: string) => got(http.DELETE("/api/patterns/{name}", { params: { path: { name } } })),
  exportList: (id: number, parts: PatternPart[], writing: Writing) =>
    got(
      http.POST("/api/shots/{shot_id}/export/list", {
        params: { path: { shot_id: id } },
        body: { aside: true, parts, ...writing },
      }),
    ),
  export: (
    id: number,
    parts: PatternPart[],
    writing: Writing,
    into: { location: string; path: string; folder: string },
  ) =>
    got(
      http.POST("/api/shots/{shot_id}/export", {
        params: { path: { shot_id: id } },
        body: { aside: true, parts, ...writing, ...into },
      }),
    ),
  renameTable: (id: number, parts: PatternPart[], aside: boolean) =>
    got(http.POST("/api/shots/{shot_id}/rename/table", { params: { path: { shot_id: id } }, body: { parts, aside } })),
  rename: (id: number, parts: PatternPart[], aside: boolean, table: string) =>
    got(http.POST("/api/shots/{shot_id}/rename", { params: { path: { shot_id: id } }, body: { parts, aside, table } })),
  lastRename: (id: number) => got(http.GET("/api/shots/{shot_id}/rename", { params: { path: { shot_id: id } } })),
  undoRename: (id: number) => got(http.POST("/api/shots/{shot_id}/rename/undo", { params: { path: { shot_id: id } } })),
  namesAsCsv: (id: number, parts: PatternPart[], aside: boolean) =>
    got(
      http.POST("/api/shots/{shot_id}/rename/table.csv", {
        params: { path: { shot_id: id } },
        body: { parts, aside },
        parseAs: "blob",
      }),
    ),
  check: (id: number) => got(http.GET("/api/shots/{shot_id}/check", { params: { path: { shot_id: id } } })),
  together: (id: number, first: number, last: number) =>
    got(http.POST("/api/shots/{shot_id}/together", { params: { path: { shot_id: id } }, body: { first, last } })),
  plots: (id: number) => got(http.GET("/api/shots/{shot_id}/check/plots", { params: { path: { shot_id: id } } })),
  remedy: (id: number, seen: number, keys: string[], remedy: Remedy | "none") =>
    got(
      http.POST("/api/shots/{shot_id}/check/remedy", {
        params: { path: { shot_id: id } },
        body: { seen, keys, remedy },
      }),
    ) as Promise<Revised>,
  mend: (id: number, seen: number, stills: number[], how: Mending) =>
    got(
      http.POST("/api/shots/{shot_id}/mend", { params: { path: { shot_id: id } }, body: { seen, stills, how } }),
    ) as Promise<Revised>,
  useStretch: (id: number, seen: number, begin: number | null, end: number | null) =>
    got(
      http.POST("/api/shots/{shot_id}/stretch", { params: { path: { shot_id: id } }, body: { seen, begin, end } }),
    ) as Promise<Revised>,
  bridgeHow: (id: number, seen: number, how: Decisions["check"]["how"]) =>
    got(
      http.POST("/api/shots/{shot_id}/bridging", { params: { path: { shot_id: id } }, body: { seen, how } }),
    ) as Promise<Revised>,
  dust: (id: number) => got(http.GET("/api/shots/{shot_id}/dust", { params: { path: { shot_id: id } } })),
  removeDust: (id: number, seen: number, at: DustPlace) =>
    got(
      http.POST("/api/shots/{shot_id}/dust", { params: { path: { shot_id: id } }, body: { seen, ...at } }),
    ) as Promise<Revised>,
  bringDustBack: (id: number, seen: number, at: DustPlace) =>
    got(
      http.POST("/api/shots/{shot_id}/dust/back", { params: { path: { shot_id: id } }, body: { seen, ...at } }),
    ) as Promise<Revised>,
  rate: (id: number, seen: number, stills: number[], rating: number | null) =>
    got(
      http.POST("/api/shots/{shot_id}/ratings", { params: { path: { shot_id: id } }, body: { seen, stills, rating } }),
    ) as Promise<Revised>,
  ratingsToWrite: (id: number) =>
    got(http.GET("/api/shots/{shot_id}/ratings/sidecars", { params: { path: { shot_id: id } } })),
  writeRatings: (id: number, digest: string) =>
    got(http.POST("/api/shots/{shot_id}/ratings/sidecars", { params: { path: { shot_id: id } }, body: { digest } })),
  note: (id: number, seen: number, still: number, text: string) =>
    got(
      http.POST("/api/shots/{shot_id}/note", { params: { path: { shot_id: id } }, body: { seen, still, text } }),
    ) as Promise<Revised>,
  decide: (id: number, seen: number, decisions: Decisions) =>
    got(
      http.PUT("/api/shots/{shot_id}/decisions", { params: { path: { shot_id: id } }, body: { seen, decisions } }),
    ) as Promise<Revised>,
  brief: (id: number, decisions: Decisions) =>
    got(
      http.POST("/api/shots/{shot_id}/brief", { params: { path: { shot_id: id } }, body: decisions }),
    ) as Promise<Brief>,
  revisions: (id: number) => got(http.GET("/api/shots/{shot_id}/revisions", { params: { path: { shot_id: id } } })),
  lightCourse: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/light/course", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  tone: (id: number, position: number, revision: number, change: object, area?: number) =>
    got(
      http.GET("/api/shots/{shot_id}/light/stills/{position}/tone", {
        params: { path: { shot_id: id, position }, query: { ...over(revision, change), area } },
      }),
    ),
  clipping: (id: number, position: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/light/stills/{position}/clipping", {
        params: { path: { shot_id: id, position }, query: over(revision, change) },
      }),
    ),
  circle: (id: number, position: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/light/stills/{position}/circle", {
        params: { path: { shot_id: id, position }, query: over(revision, change) },
      }),
    ),
  camera: (id: number) => got(http.GET("/api/shots/{shot_id}/light/camera", { params: { path: { shot_id: id } } })),
  lenses: (id: number, words: string) =>
    got(http.GET("/api/shots/{shot_id}/light/lenses", { params: { path: { shot_id: id }, query: { words } } })),
  laid: (id: number, position: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/light/stills/{position}/laid", {
        params: { path: { shot_id: id, position }, query: over(revision, change) },
      }),
    ),
  stroke: (id: number, position: number, body: Schemas["StrokeBody"]) =>
    got(
      http.POST("/api/shots/{shot_id}/light/stills/{position}/stroke", {
        params: { path: { shot_id: id, position } },
        body,
      }),
    ) as Promise<Stroke>,
  looks: () => got(http.GET("/api/looks")),
  saveLook: (id: number, name: string, parts: LookPart[]) =>
    got(http.POST("/api/shots/{shot_id}/looks", { params: { path: { shot_id: id } }, body: { name, parts } })),
  applyLook: (id: number, seen: number, look: Look) =>
    got(
      http.POST("/api/shots/{shot_id}/looks/apply", {
        params: { path: { shot_id: id } },
        body: { seen, id: look.id, name: look.name },
      }),
    ) as Promise<Revised>,
  followPicture,
  deleteLook: (look: number) => got(http.DELETE("/api/looks/{look_id}", { params: { path: { look_id: look } } })),
  copyLight: (id: number, seen: number, shot: number, version: number | null, parts: LookPart[]) =>
    got(
      http.POST("/api/shots/{shot_id}/light/copy", {
        params: { path: { shot_id: id } },
        body: { seen, shot, version, parts },
      }),
    ) as Promise<Revised>,
  addTable: (id: number, seen: number, name: string, text: string) =>
    got(
      http.POST("/api/shots/{shot_id}/light/table", { params: { path: { shot_id: id } }, body: { seen, name, text } }),
    ) as Promise<Revised>,
  neutral: (id: number, position: number, x: number, y: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/light/stills/{position}/neutral", {
        params: { path: { shot_id: id, position }, query: { x, y, ...over(revision, change) } },
      }),
    ),
  hue: (id: number, position: number, x: number, y: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/light/stills/{position}/hue", {
        params: { path: { shot_id: id, position }, query: { x, y, ...over(revision, change) } },
      }),
    ),
  travel: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/move/travel", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  steadied: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/move/steady", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  tradeOffs: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/move/trade-offs", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  observations: (id: number, position: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/move/stills/{position}/observations", {
        params: { path: { shot_id: id, position }, query: over(revision, change) },
      }),
    ),
  pointed: (id: number, position: number, x: number, y: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/move/stills/{position}/pointed", {
        params: { path: { shot_id: id, position }, query: { x, y, ...over(revision, change) } },
      }),
    ),
  pickStills: (id: number, seen: number, every: number) =>
    got(
      http.POST("/api/shots/{shot_id}/move/pick", { params: { path: { shot_id: id } }, body: { seen, every } }),
    ) as Promise<Revised>,
  measureMove: (id: number) =>
    got(http.POST("/api/shots/{shot_id}/move/measure", { params: { path: { shot_id: id } } })),
  usualMove: (id: number, revision: number, change: object, name: UsualMove, amount: number) =>
    got(
      http.GET("/api/shots/{shot_id}/move/usual", {
        params: { path: { shot_id: id }, query: { name, amount, ...over(revision, change) } },
      }),
    ) as Promise<Decisions["move"]>,
  sizes: (id: number) => got(http.GET("/api/shots/{shot_id}/fit/sizes", { params: { path: { shot_id: id } } })),
  advice: (id: number, width: number, height: number) =>
    got(http.GET("/api/shots/{shot_id}/fit/advice", { params: { path: { shot_id: id }, query: { width, height } } })),
  level: (id: number, line: [number, number, number, number], fit: Fit) =>
    got(http.POST("/api/shots/{shot_id}/fit/level", { params: { path: { shot_id: id } }, body: { line, fit } })),
  cutoff: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/fit/cutoff", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  smallLights: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/fit/small-lights", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  colour: (id: number, position: number, x: number, y: number, revision: number) =>
    got(
      http.GET("/api/shots/{shot_id}/fit/stills/{position}/colour", {
        params: { path: { shot_id: id, position }, query: { x, y, revision } },
      }),
    ),
  ways: (id: number, length: string, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/pace/ways", {
        params: { path: { shot_id: id }, query: { length, ...over(revision, change) } },
      }),
    ) as Promise<Way[]>,
  frames: (id: number, text: string, rate: string) =>
    got(http.GET("/api/shots/{shot_id}/pace/frames", { params: { path: { shot_id: id }, query: { text, rate } } })),
  playback: (id: number, revision: number, change: object) =>
    got(
      http.GET("/api/shots/{shot_id}/pace/play", {
        params: { path: { shot_id: id }, query: over(revision, change) },
      }),
    ),
  lengths: (id: number) => got(http.GET("/api/shots/{shot_id}/pace/lengths", { params: { path: { shot_id: id } } })),
  inStep: (
    id: number,
    now: { revision: number; change: object },
    other: { shot?: number; revision: number; change: object },
    inStep: "still" | "share" | "clock",
  ) =>
    got(
      http.GET("/api/shots/{shot_id}/pace/play-in-step", {
        params: {
          path: { shot_id: id },
          query: {
            ...over(now.revision, now.change),
            other: other.revision,
            other_change: over(other.revision, other.change).change,
            other_shot: other.shot,
            in_step: inStep,
          },
        },
      }),
    ),
  addVersion: (id: number, seen: number, name: string) =>
    got(
      http.POST("/api/shots/{shot_id}/versions", { params: { path: { shot_id: id } }, body: { seen, name } }),
    ) as Promise<Revised>,
  openVersion: (id: number, seen: number, version: number) =>
    got(
      http.POST("/api/shots/{shot_id}/versions/open", { params: { path: { shot_id: id } }, body: { seen, version } }),
    ) as Promise<Revised>,
  renameVersion: (id: number, version: number, name: string) =>
    got(
      http.PUT("/api/shots/{shot_id}/versions/{version_id}", {
        params: { path: { shot_id: id, version_id: version } },
        body: { name },
      }),
    ),
  deleteVersion: (id: number, version: number) =>
    got(
      http.DELETE("/api/shots/{shot_id}/versions/{version_id}", {
        params: { path: { shot_id: id, version_id: version } },
      }),
    ),
  presets: () => got(http.GET("/api/presets")),
  keepPreset: (id: number, preset: Schemas["NewPreset"]) =>
    got(http.POST("/api/shots/{shot_id}/presets", { params: { path: { shot_id: id } }, body: preset })),
  applyPreset: (id: number, seen: number, preset: number) =>
    got(
      http.POST("/api/shots/{shot_id}/presets/apply", { params: { path: { shot_id: id } }, body: { seen, preset } }),
    ) as Promise<Revised>,
  clipChanges: (id: number) =>
    got(http.GET("/api/shots/{shot_id}/clips/changes", { params: { path: { shot_id: id } } })),
  reelClipChanges: (id: number) =>
    got(http.GET("/api/reels/{reel_id}/clips/changes", { params: { path: { reel_id: id } } })),
  makeAnew: (clip: number, seen: number) =>
    got(http.POST("/api/clips/{clip_id}/anew", { params: { path: { clip_id: clip } }, body: { seen } })),
  deletePreset: (preset: number) =>
    got(http.DELETE("/api/presets/{preset_id}", { params: { path: { preset_id: preset } } })),
  importPresets: (text: string) => got(http.POST("/api/presets/import", { body: { text } })),
  encodeChoices: () => got(http.GET("/api/encode/choices")) as Promise<EncodeChoices>,
  encode: (of: Owner, seen: number, wish: EncodeWish = {}) =>
    of.kind === "shots"
      ? got(
          http.POST("/api/shots/{shot_id}/encode", {
            params: { path: { shot_id: of.id } },
            body: { seen, ...wish } as Schemas["Begin"],
          }),
        )
      : got(
          http.POST("/api/reels/{reel_id}/encode", {
            params: { path: { reel_id: of.id } },
            body: { seen, ...wish } as Schemas["Begin"],
          }),
        ),
  offers: (of: Owner, pattern: string) =>
    of.kind === "shots"
      ? got(http.GET("/api/shots/{shot_id}/offers", { params: { path: { shot_id: of.id }, query: { pattern } } }))
      : got(http.GET("/api/reels/{reel_id}/offers", { params: { path: { reel_id: of.id }, query: { pattern } } })),
  measureOffers: (of: Owner, every: boolean) =>
    of.kind === "shots"
      ? got(
          http.POST("/api/shots/{shot_id}/offers/measure", { params: { path: { shot_id: of.id }, query: { every } } }),
        )
      : got(
          http.POST("/api/reels/{reel_id}/offers/measure", { params: { path: { reel_id: of.id }, query: { every } } }),
        ),
  snippet: (clip: number) =>
    got(http.GET("/api/clips/{clip_id}/snippet", { params: { path: { clip_id: clip } }, parseAs: "text" })),
  clips: (id: number) => got(http.GET("/api/shots/{shot_id}/clips", { params: { path: { shot_id: id } } })),
  plans: (project: number) =>
    got(http.GET("/api/projects/{project_id}/plans", { params: { path: { project_id: project } } })) as Promise<
      Planned[]
    >,
  addPlan: (project: number, planned: Partial<PlannedShot>) =>
    got(
      http.POST("/api/projects/{project_id}/plans", {
        params: { path: { project_id: project } },
        body: planned as PlannedShot,
      }),
    ) as Promise<Planned>,
  planAsShot: (shot: number) =>
    got(http.POST("/api/shots/{shot_id}/plan", { params: { path: { shot_id: shot } } })) as Promise<{
      plan: Planned;
      sentence: string;
    }>,
  orderPlans: (project: number, plans: number[]) =>
    got(
      http.PUT("/api/projects/{project_id}/plans/order", {
        params: { path: { project_id: project } },
        body: { plans },
      }),
    ) as Promise<Planned[]>,
  keepPlan: (id: number, seen: number, planned: PlannedShot) =>
    got(
      http.PUT("/api/plans/{plan_id}", { params: { path: { plan_id: id } }, body: { seen, planned } }),
    ) as Promise<Planned>,
  changePlan: (id: number, seen: number, quantity: Quantity, text: string) =>
    got(
      http.POST("/api/plans/{plan_id}/change", { params: { path: { plan_id: id } }, body: { seen, quantity, text } }),
    ) as Promise<Planned>,
  deletePlan: (id: number) => got(http.DELETE("/api/plans/{plan_id}", { params: { path: { plan_id: id } } })),
  takePlanBack: (id: number) =>
    got(http.POST("/api/plans/{plan_id}/take-back", { params: { path: { plan_id: id } } })) as Promise<Planned>,
  subjects: (rate: string) => got(http.GET("/api/plan/subjects", { params: { query: { rate } } })),
  duration: (text: string) => got(http.GET("/api/plan/duration", { params: { query: { text } } })),
  stillSize: (megapixels: number, raw: boolean, jpeg: boolean) =>
    got(http.GET("/api/plan/still-size", { params: { query: { megapixels, raw, jpeg } } })),
  suiting: (crossing_s: number, rate: string, on_screen_s: number) =>
    got(http.GET("/api/plan/suiting", { params: { query: { crossing_s, rate, on_screen_s } } })),
  crossing: (first: File, second: File, rate: string, on_screen_s: number, apart_s?: number) =>
    measureCrossing(first, second, rate, on_screen_s, apart_s),
  projectForClip: (name: string) => got(http.POST("/api/clip-now/project", { body: { name } })),
  beginClip: (location: string, path: string) => got(http.POST("/api/clip-now", { body: { location, path } })),
  beginClips: (location: string, path: string) => got(http.POST("/api/clip-now/each", { body: { location, path } })),
  proposeAnswers: (shot: number) =>
    got(http.GET("/api/shots/{shot_id}/clip-now", { params: { path: { shot_id: shot } } })) as Promise<Proposals>,
  tryAnswers: (shot: number, answers: Answers) =>
    got(http.POST("/api/shots/{shot_id}/clip-now/try", { params: { path: { shot_id: shot } }, body: answers })),
  makeClip: (shot: number, answers: Answers, reel: number | null) =>
    got(http.POST("/api/shots/{shot_id}/clip-now", { params: { path: { shot_id: shot } }, body: { answers, reel } })),
  cameras: () => got(http.GET("/api/cameras")),
  cameraState: (key: string) => got(http.GET("/api/cameras/state", { params: { query: { key } } })),
  setCamera: (key: string, exposure_s: number, sensitivity: number) =>
    got(http.PUT("/api/cameras/settings", { params: { query: { key } }, body: { exposure_s, sensitivity } })),
  captureBrief: (capture: Capture, rate: string) => got(http.POST("/api/capture/brief", { body: { capture, rate } })),
  beginCapture: (project: number, name: string, capture: Capture, planned: PlannedShot | null) =>
    got(
      http.POST("/api/projects/{project_id}/captures", {
        params: { path: { project_id: project } },
        body: { name, capture, planned },
      }),
    ),
  captureOf: (shot: number) => got(http.GET("/api/shots/{shot_id}/capture", { params: { path: { shot_id: shot } } })),
  pauseCapture: (job: number) => got(http.POST("/api/captures/{job_id}/pause", { params: { path: { job_id: job } } })),
  goOnCapturing: (job: number) => got(http.POST("/api/captures/{job_id}/go-on", { params: { path: { job_id: job } } })),
  stopCapture: (job: number) => got(http.POST("/api/captures/{job_id}/stop", { params: { path: { job_id: job } } })),
  watchFolder: (shot: number) => got(http.POST("/api/shots/{shot_id}/watch", { params: { path: { shot_id: shot } } })),
  liveView,
  testStill,
  reels: (project: number) =>
    got(http.GET("/api/projects/{project_id}/reels", { params: { path: { project_id: project } } })),
  addReel: (project: number, name: string, shots: number[]) =>
    got(
      http.POST("/api/projects/{project_id}/reels", {
        params: { path: { project_id: project } },
        body: { name, shots },
      }),
    ) as Promise<ReelDetail>,
  addReelOfShot: (shot: number) =>
    got(http.POST("/api/shots/{shot_id}/reel", { params: { path: { shot_id: shot } } })) as Promise<ReelDetail>,
  takeReelBack: (id: number) => got(http.POST("/api/reels/{reel_id}/take-back", { params: { path: { reel_id: id } } })),
  reel: (id: number) =>
    got(http.GET("/api/reels/{reel_id}", { params: { path: { reel_id: id } } })) as Promise<ReelDetail>,
  renameReel: (id: number, name: string) =>
    got(
      http.PATCH("/api/reels/{reel_id}", { params: { path: { reel_id: id } }, body: { name } }),
    ) as Promise<ReelDetail>,
  deleteReel: (id: number) => got(http.DELETE("/api/reels/{reel_id}", { params: { path: { reel_id: id } } })),
  decideReel: (id: number, seen: number, decisions: Reel) =>
    got(
      http.PUT("/api/reels/{reel_id}/decisions", { params: { path: { reel_id: id } }, body: { seen, decisions } }),
    ) as Promise<RevisedReel>,
  undoReel: (id: number, seen: number) =>
    got(
      http.POST("/api/reels/{reel_id}/undo", { params: { path: { reel_id: id } }, body: { seen } }),
    ) as Promise<RevisedReel>,
  redoReel: (id: number, seen: number) =>
    got(
      http.POST("/api/reels/{reel_id}/redo", { params: { path: { reel_id: id } }, body: { seen } }),
    ) as Promise<RevisedReel>,
  reelPlayback: (id: number, revision: number) =>
    got(http.GET("/api/reels/{reel_id}/play", { params: { path: { reel_id: id }, query: { revision } } })),
  titleBoxes: (id: number, frame: number, revision: number, tried?: Reel) =>
    got(
      http.GET("/api/reels/{reel_id}/frames/{frame}/titles", {
        params: { path: { reel_id: id, frame }, query: reelOver(revision, tried) },
      }),
    ),
  loudnessCurves: (id: number, revision: number, tried: Reel | undefined, rows: number) =>
    got(
      http.GET("/api/reels/{reel_id}/loudness-curves", {
        params: { path: { reel_id: id }, query: { rows, ...reelOver(revision, tried) } },
      }),
    ),
  trackWays: (id: number, track: number, revision: number) =>
    got(
      http.GET("/api/reels/{reel_id}/tracks/{track_id}/ways", {
        params: { path: { reel_id: id, track_id: track }, query: { revision } },
      }),
    ) as Promise<FitWay[]>,
  sounds: (project: number) =>
    got(http.GET("/api/projects/{project_id}/sounds", { params: { path: { project_id: project } } })),
  creditSound: (id: number, credit: string) =>
    got(http.PUT("/api/sounds/{sound_id}/credit", { params: { path: { sound_id: id } }, body: { credit } })),
  deleteSound: (id: number) => got(http.DELETE("/api/sounds/{sound_id}", { params: { path: { sound_id: id } } })),
  logos: (project: number) =>
    got(http.GET("/api/projects/{project_id}/logos", { params: { path: { project_id: project } } })),
  madeKinds: () => got(http.GET("/api/made-sounds")),
  sendSound: (id: number, file: File) => sendFile<Job>(`/api/reels/${id}/sounds`, file),
  sendLogo: (id: number, file: File) => sendFile<Logo>(`/api/reels/${id}/logos`, file),
  makeSound: (id: number, made: Schemas["Made"]) =>
    got(http.POST("/api/reels/{reel_id}/made-sounds", { params: { path: { reel_id: id } }, body: made })),
  soundOfFootage: (id: number, part: number) =>
    got(http.POST("/api/reels/{reel_id}/parts/{part_id}/sound", { params: { path: { reel_id: id, part_id: part } } })),
  readReel: (project: number, text: string) =>
    got(
      http.POST("/api/projects/{project_id}/reels/read", { params: { path: { project_id: project } }, body: { text } }),
    ),
  reelClips: (id: number) => got(http.GET("/api/reels/{reel_id}/clips", { params: { path: { reel_id: id } } })),
  jobs: () => got(http.GET("/api/jobs")),
  card: (location: string, path: string) => got(http.POST("/api/card", { body: { location, path } })) as Promise<Card>,
  cardNames: (location: string, path: string, names: CardNames) =>
    got(http.POST("/api/card/names", { body: { location, path, ...names } })),
  offloads: (project: number) =>
    got(http.GET("/api/projects/{project_id}/offloads", { params: { path: { project_id: project } } })),
  offload: (
    project: number,
    card: { location: string; path: string; seen: string },
    names: CardNames,
    wanted: { shots: number[]; others: boolean; into: NewFolder[] },
  ) =>
    got(
      http.POST("/api/projects/{project_id}/offloads", {
        params: { path: { project_id: project } },
        body: { ...card, ...names, ...wanted },
      }),
    ),
  shotsOfOffload: (job: number) =>
    got(http.POST("/api/offloads/{job_id}/shots", { params: { path: { job_id: job } } })),
  cancel: (job: number) => got(http.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: job } } })),
  queue: () => got(http.GET("/api/jobs/queue")),
  pauseJob: (job: number) => got(http.POST("/api/jobs/{job_id}/pause", { params: { path: { job_id: job } } })),
  goOnWithJob: (job: number) => got(http.POST("/api/jobs/{job_id}/go-on", { params: { path: { job_id: job } } })),
  putJobBefore: (job: number, other: number | null) =>
    got(http.POST("/api/jobs/{job_id}/before", { params: { path: { job_id: job } }, body: { other } })),
};
