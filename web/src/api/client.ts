import { ref } from "vue";

import type { components } from "./schema";

type Schemas = components["schemas"];
type Whole<Part> = Part extends object ? { [Name in keyof Part]-?: Whole<Part[Name]> } : Part;
export type Project = Schemas["ProjectView"];
export type ProjectDetail = Schemas["ProjectDetail"];
export type Decisions = Whole<Schemas["Decisions"]>;
export type Shot = Omit<Schemas["ShotDetail"], "brief"> & { decisions: Decisions; brief: Brief };
export type Revised = Omit<Schemas["RevisedView"], "brief"> & { decisions: Decisions; brief: Brief };
export type Brief = Omit<Schemas["BriefView"], "remedies"> & { remedies: { name: string; decisions: Decisions }[] };
export type Fit = Decisions["fit"];
export type LightCourse = Schemas["CourseView"];
export type Tone = Schemas["ToneView"];
export type Clipping = Schemas["ClippingView"];
export type Circle = Schemas["CircleView"];
export type ShotCamera = Schemas["CameraView"];
export type Laid = Schemas["LaidView"];
export type Look = Schemas["LookView"];
export type LookPart = Look["parts"][number];
export type Area = Decisions["light"]["areas"][number];
export type Stroke = Extract<Area["mask"]["parts"][number]["shape"], { kind: "brush" }>["strokes"][number];
export type Travel = Schemas["TravelView"];
export type Steadied = Schemas["SteadiedView"];
export type TradeOff = Schemas["TradeOffView"];
export type Observation = Schemas["ObservationView"];
export type UsualMove = "push in" | "pull out" | "drift left" | "drift right" | "rise" | "sink" | "turn";
export type Pace = Decisions["pace"];
export type Revision = Schemas["RevisionView"];
export type Seen = Schemas["SeenView"];
export type Playback = Schemas["PlayView"];
export type Segment = Schemas["SegmentView"];
export type ShapeChoice = Schemas["ShapeView"];
export type SizeAdvice = Schemas["AdviceView"];
export type Cutoffs = Schemas["CutoffsView"];
export type Way = Omit<Schemas["WayView"], "pace"> & { pace: Pace };
export type Preset = Schemas["PresetView"];
export type Version = Schemas["VersionView"];
export type Stills = Schemas["StillsView"];
export type Still = Schemas["StillView"];
export type Order = Schemas["OrderView"];
export type Sorting = Schemas["SortingView"];
export type Proposal = Schemas["ProposalView"];
export type Action = Proposal["action"];
export type Lost = Schemas["LostView"];
export type Footage = Schemas["FootageView"];
export type Taking = Schemas["Taking"];
export type NamedPattern = Omit<Schemas["NamedPattern"], "parts"> & { parts: PatternPart[] };
export type Writing = Pick<Schemas["Into"], "what" | "format" | "quality">;
export type ExportList = Schemas["ExportListView"];
export type Check = Schemas["CheckView"];
export type Finding = Schemas["FindingView"];
export type Remedy = Finding["remedies"][number];
export type Plot = Schemas["PlotView"];
export type Opened = Schemas["Opened"] & { revised: Revised };
export type PatternPart = Whole<Schemas["PatternPart"]>;
export type RenameTableRows = Schemas["RenameTableView"];
export type RenameLine = Schemas["LineView"];
export type LastRename = Schemas["LastRename"];
export type Space = Schemas["SpaceView"];
export type Job = Schemas["JobView"];
export type Reel = Whole<Schemas["Reel"]>;
export type ReelPart = Reel["parts"][number];
export type ReelPicture = ReelPart["pictures"][number];
export type Title = Reel["titles"][number];
export type Track = Reel["sound"]["tracks"][number];
export type ReelSummary = Schemas["ReelSummary"];
export type ReelDetail = Omit<Schemas["ReelDetail"], "decisions"> & { decisions: Reel };
export type RevisedReel = Omit<Schemas["RevisedReelView"], "decisions"> & { decisions: Reel };
export type ReelPlayback = Schemas["ReelPlayView"];
export type PartSpan = Schemas["PartSpanView"];
export type TitleBox = Schemas["TitleBoxView"];
export type ProjectSound = Schemas["SoundView"];
export type MadeKind = Schemas["MadeKindView"];
export type Logo = Schemas["LogoView"];
export type Rope = Schemas["RopeView"];
export type FitWay = Omit<Schemas["FitWayView"], "track"> & { track: Track };
export type Clip = Schemas["ClipView"];
export type Encode = Decisions["encode"];
export type EncodeChoices = Omit<Schemas["EncodeChoices"], "purposes"> & { purposes: Purpose[] };
export type Purpose = Omit<Schemas["PurposeView"], "encode"> & { encode: Encode };
export type Format = Schemas["FormatView"];
export type Offers = Schemas["OffersView"];
export type Offer = Schemas["OfferView"];
export type EncodeWish = Partial<Omit<Schemas["Begin"], "seen">>;
export type Queued = Schemas["QueuedView"];
/** A shot or a reel, as its addresses name it. */
export interface Owner {
  kind: "shots" | "reels";
  id: number;
}
export type Answers = Whole<Schemas["Answers"]>;
export type Proposals = Omit<Schemas["ProposalsView"], "answers"> & { answers: Answers };
export type TriedAnswers = Schemas["TriedAnswers"];
export type CameraFound = Schemas["CameraFoundView"];
export type CameraState = Schemas["CameraState"];
export type Capture = Whole<Schemas["Capture"]>;
export type Captured = Schemas["CaptureView"];
export type PlannedShot = Whole<Schemas["PlannedShot"]>;
export type Planned = Omit<Schemas["PlannedView"], "planned"> & { planned: PlannedShot };
export type Quantity = Schemas["QuantityView"]["quantity"];
export type Subject = Schemas["SubjectView"];
export type Suited = Schemas["SuitedView"];
export type Place = Schemas["RootView"];
export type Folder = Schemas["FolderView"];
export type Upload = Schemas["UploadView"];
export type ShotStarted = Schemas["ShotStarted"];

/** A refusal by the server, with the sentence to show. */
export class Problem extends Error {
  constructor(
    readonly code: string,
    readonly status: number,
    sentence: string,
  ) {
    super(sentence);
  }
}

export const unreachable = "The program does not answer. Start it again; nothing is lost.";

async function ask<Answer>(method: string, path: string, body?: unknown): Promise<Answer> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers: body === undefined ? {} : { "Content-Type": "application/json" },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
  } catch {
    throw new Problem("unreachable", 0, unreachable);
  }
  if (!response.ok) throw await problemOf(response);
  return (response.status === 204 ? undefined : await response.json()) as Answer;
}

async function askText(path: string): Promise<string> {
  const response = await fetch(path).catch(() => {
    throw new Problem("unreachable", 0, unreachable);
  });
  if (!response.ok) throw await problemOf(response);
  return response.text();
}

/** Let the browser keep what an address or some text gives as a file. */
export function saveAs(name: string, source: string | Blob): void {
  const link = document.createElement("a");
  link.href = typeof source === "string" ? source : URL.createObjectURL(source);
  link.download = name;
  link.click();
  if (typeof source !== "string") URL.revokeObjectURL(link.href);
}

export async function problemOf(response: Response): Promise<Problem> {
  try {
    const problem = (await response.json()) as Schemas["Problem"];
    return new Problem(problem.code, response.status, problem.detail);
  } catch {
    return new Problem("unexpected", response.status, `The program answered with an error (${response.status}).`);
  }
}

/** The state of the stills of the shot that is open: part of the addresses of its pictures, which change with it. */
export const stillsState = ref("");

function stateNow(): string {
  return `state=${encodeURIComponent(stillsState.value)}`;
}

/** The decisions a picture is asked for with: those of a revision, with a change on top. */
function over(revision: number, change: object): string {
  return `revision=${revision}&change=${encodeURIComponent(JSON.stringify(change, unlessNeutral))}`;
}

/** A setting that does nothing is what the server takes it for anyway; addresses stay short without it. */
function unlessNeutral(name: string, value: unknown): unknown {
  if (name === "strength" || typeof value !== "object" || value === null) return value;
  const { value: number, keyframes } = value as { value?: unknown; keyframes?: unknown[] };
  return number === 0 && keyframes?.length === 0 ? undefined : value;
}

/** The decisions a reel's pictures are asked for with: those of a revision, or those that are being tried. */
function reelOver(revision: number, tried?: Reel): string {
  return `revision=${revision}${tried ? `&tried=${encodeURIComponent(JSON.stringify(tried))}` : ""}`;
}

async function sendFile<Answer>(path: string, file: File): Promise<Answer> {
  let response: Response;
  try {
    response = await fetch(`${path}?name=${encodeURIComponent(file.name)}`, { method: "PUT", body: file });
  } catch {
    throw new Problem("unreachable", 0, unreachable);
  }
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as Answer;
}

/** Send two test stills, one after the other, and have measured how fast things cross the view. */
async function measureCrossing(first: File, second: File, rate: string, on_screen_s: number, apart_s?: number): Promise<Suited> {
  const said = new URLSearchParams({ first: first.name, second: second.name, first_bytes: `${first.size}`, rate, on_screen_s: `${on_screen_s}` });
  if (apart_s) said.set("apart_s", `${apart_s}`);
  const response = await fetch(`/api/plan/crossing?${said}`, { method: "POST", body: new Blob([first, second]) }).catch(() => {
    throw new Problem("unreachable", 0, unreachable);
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as Suited;
}

/** What a camera sees now, with how sharp the spot is and how much is clipped. */
async function liveView(key: string, x: number, y: number, stripes: boolean): Promise<{ picture: Blob; sharpness: number; clipped: number }> {
  const response = await fetch(`/api/cameras/live.jpg?key=${encodeURIComponent(key)}&x=${x.toFixed(4)}&y=${y.toFixed(4)}&stripes=${stripes}`).catch(() => {
    throw new Problem("unreachable", 0, unreachable);
  });
  if (!response.ok) throw await problemOf(response);
  return { picture: await response.blob(), sharpness: Number(response.headers.get("X-Sharpness")), clipped: Number(response.headers.get("X-Clipped")) };
}

export const api = {
  projects: () => ask<Project[]>("GET", "/api/projects"),
  addProject: (name: string) => ask<Project>("POST", "/api/projects", { name }),
  renameProject: (id: number, name: string) => ask<Project>("PUT", `/api/projects/${id}`, { name }),
  project: (id: number) => ask<ProjectDetail>("GET", `/api/projects/${id}`),
  places: () => ask<Place[]>("GET", "/api/roots"),
  folder: (root: string, path: string) =>
    ask<Folder>("GET", `/api/roots/${encodeURIComponent(root)}/folder?path=${encodeURIComponent(path)}`),
  gatherFolder: (project: number, root: string, path: string, copy_files: boolean) =>
    ask<ShotStarted>("POST", `/api/projects/${project}/shots`, { root, path, copy_files }),
  lost: (project: number) => ask<Lost[]>("GET", `/api/projects/${project}/lost`),
  find: (project: number, root: string, path: string) =>
    ask<Schemas["Found"]>("POST", `/api/projects/${project}/find`, { root, path }),
  footage: (root: string, path: string, taking: Taking) => ask<Footage>("POST", "/api/footage", { root, path, taking }),
  gatherFootage: (project: number, root: string, path: string, taking: Taking) =>
    ask<ShotStarted>("POST", `/api/projects/${project}/footage`, { root, path, taking }),
  gatherAgain: (shot: number) => ask<ShotStarted>("POST", `/api/shots/${shot}/gather`),
  openUpload: (project: number, announcement: Schemas["Announcement"]) =>
    ask<Upload>("POST", `/api/projects/${project}/uploads`, announcement),
  completeUpload: (upload: number) => ask<ShotStarted>("POST", `/api/uploads/${upload}/complete`),
  shot: (id: number) => ask<Shot>("GET", `/api/shots/${id}`),
  stills: (id: number, since = 0) => ask<Stills>("GET", `/api/shots/${id}/stills?since=${since}`),
  order: (id: number) => ask<Order>("GET", `/api/shots/${id}/order`),
  sorting: (id: number) => ask<Sorting>("GET", `/api/shots/${id}/sorting`),
  sort: (id: number, seen: number, choices: { key: string; action: Action }[]) =>
    ask<Schemas["Sorted"]>("POST", `/api/shots/${id}/sorting`, { seen, choices }),
  split: (id: number, before: number[]) => ask<Schemas["ShotsMade"]>("POST", `/api/shots/${id}/split`, { before }),
  join: (id: number, other: number) => ask<Schemas["ShotsMade"]>("POST", `/api/shots/${id}/join`, { other }),
  takeOut: (id: number, stills: number[]) => ask<void>("POST", `/api/shots/${id}/take-out`, { stills }),
  bringBack: (id: number) => ask<ShotStarted>("POST", `/api/shots/${id}/bring-back`),
  useRaws: (id: number, raws: boolean) => ask<ShotStarted>("PUT", `/api/shots/${id}/raws`, { raws }),
  renameShot: (id: number, name: string) => ask<void>("PUT", `/api/shots/${id}/name`, { name }),
  deleteShot: (id: number) => ask<void>("DELETE", `/api/shots/${id}`),
  takeShotBack: (id: number) => ask<void>("POST", `/api/shots/${id}/take-back`),
  deleteProject: (id: number) => ask<void>("DELETE", `/api/projects/${id}`),
  takeProjectBack: (id: number) => ask<void>("POST", `/api/projects/${id}/take-back`),
  deleteClip: (id: number) => ask<void>("DELETE", `/api/clips/${id}`),
  space: () => ask<Space>("GET", "/api/space"),
  freeSpace: (what: Schemas["Freed"]["what"]) => ask<Space>("POST", "/api/space/free", { what }),
  moveStills: (id: number, seen: number, stills: number[], to: number) =>
    ask<Revised>("POST", `/api/shots/${id}/order/move`, { seen, stills, to }),
  reverseStills: (id: number, seen: number, stills: number[]) =>
    ask<Revised>("POST", `/api/shots/${id}/order/reverse`, { seen, stills }),
  setAside: (id: number, seen: number, stills: number[], aside: boolean) =>
    ask<Revised>("POST", `/api/shots/${id}/aside`, { seen, stills, aside }),
  undo: (id: number, seen: number) => ask<Revised>("POST", `/api/shots/${id}/undo`, { seen }),
  redo: (id: number, seen: number) => ask<Revised>("POST", `/api/shots/${id}/redo`, { seen }),
  openList: (id: number, seen: number, format: "csv" | "otio", text: string) =>
    ask<Opened>("POST", `/api/shots/${id}/list`, { seen, format, text }),
  patterns: () => ask<NamedPattern[]>("GET", "/api/patterns"),
  keepPattern: (name: string, parts: PatternPart[]) => ask<NamedPattern>("PUT", "/api/patterns", { name, parts }),
  forgetPattern: (name: string) => ask<void>("DELETE", `/api/patterns/${encodeURIComponent(name)}`),
  exportList: (id: number, parts: PatternPart[], writing: Writing) =>
    ask<ExportList>("POST", `/api/shots/${id}/export/list`, { parts, ...writing }),
  export: (id: number, parts: PatternPart[], writing: Writing, into: { root: string; path: string; folder: string }) =>
    ask<Job>("POST", `/api/shots/${id}/export`, { parts, ...writing, ...into }),
  renameTable: (id: number, parts: PatternPart[], aside: boolean) =>
    ask<RenameTableRows>("POST", `/api/shots/${id}/rename/table`, { parts, aside }),
  rename: (id: number, parts: PatternPart[], aside: boolean, table: string) =>
    ask<Schemas["Renamed"]>("POST", `/api/shots/${id}/rename`, { parts, aside, table }),
  lastRename: (id: number) => ask<LastRename | null>("GET", `/api/shots/${id}/rename`),
  undoRename: (id: number) => ask<Schemas["Renamed"]>("POST", `/api/shots/${id}/rename/undo`),
  namesAsCsv: async (id: number, parts: PatternPart[], aside: boolean) => {
    const body = JSON.stringify({ parts, aside });
    const headers = { "Content-Type": "application/json" };
    const response = await fetch(`/api/shots/${id}/rename/table.csv`, { method: "POST", headers, body });
    if (!response.ok) throw await problemOf(response);
    return response.blob();
  },
  check: (id: number) => ask<Check>("GET", `/api/shots/${id}/check`),
  together: (id: number, first: number, last: number) =>
    ask<Schemas["TogetherView"]>("POST", `/api/shots/${id}/together`, { first, last }),
  plots: (id: number) => ask<Plot[]>("GET", `/api/shots/${id}/check/plots`),
  remedy: (id: number, seen: number, keys: string[], remedy: Remedy | "none") =>
    ask<Revised>("POST", `/api/shots/${id}/check/remedy`, { seen, keys, remedy }),
  useStretch: (id: number, seen: number, begin: number | null, end: number | null) =>
    ask<Revised>("POST", `/api/shots/${id}/stretch`, { seen, begin, end }),
  bridgeHow: (id: number, seen: number, how: Decisions["check"]["how"]) =>
    ask<Revised>("POST", `/api/shots/${id}/bridging`, { seen, how }),
  note: (id: number, seen: number, still: number, text: string) =>
    ask<Revised>("POST", `/api/shots/${id}/note`, { seen, still, text }),
  decide: (id: number, seen: number, decisions: Decisions) =>
    ask<Revised>("PUT", `/api/shots/${id}/decisions`, { seen, decisions }),
  brief: (id: number, decisions: Decisions) => ask<Brief>("POST", `/api/shots/${id}/brief`, decisions),
  revisions: (id: number) => ask<Revision[]>("GET", `/api/shots/${id}/revisions`),
  lightCourse: (id: number, revision: number, change: object) => ask<LightCourse>("GET", `/api/shots/${id}/light/course?${over(revision, change)}`),
  tone: (id: number, position: number, revision: number, change: object, area?: number) =>
    ask<Tone>("GET", `/api/shots/${id}/light/stills/${position}/tone?${over(revision, change)}${area === undefined ? "" : `&area=${area}`}`),
  clipping: (id: number, position: number, revision: number, change: object) =>
    ask<Clipping>("GET", `/api/shots/${id}/light/stills/${position}/clipping?${over(revision, change)}`),
  circle: (id: number, position: number, revision: number, change: object) =>
    ask<Circle>("GET", `/api/shots/${id}/light/stills/${position}/circle?${over(revision, change)}`),
  camera: (id: number) => ask<ShotCamera>("GET", `/api/shots/${id}/light/camera`),
  laid: (id: number, position: number, revision: number, change: object) =>
    ask<Laid>("GET", `/api/shots/${id}/light/stills/${position}/laid?${over(revision, change)}`),
  stroke: (id: number, position: number, body: Schemas["StrokeBody"]) =>
    ask<Stroke>("POST", `/api/shots/${id}/light/stills/${position}/stroke`, body),
  looks: () => ask<Look[]>("GET", "/api/looks"),
  saveLook: (id: number, name: string, parts: LookPart[]) => ask<Look[]>("POST", `/api/shots/${id}/looks`, { name, parts }),
  applyLook: (id: number, seen: number, look: Look) =>
    ask<Revised>("POST", `/api/shots/${id}/looks/apply`, { seen, id: look.id, name: look.name }),
  deleteLook: (look: number) => ask<Look[]>("DELETE", `/api/looks/${look}`),
  copyLight: (id: number, seen: number, shot: number, version: number | null, parts: LookPart[]) =>
    ask<Revised>("POST", `/api/shots/${id}/light/copy`, { seen, shot, version, parts }),
  addTable: (id: number, seen: number, name: string, text: string) =>
    ask<Revised>("POST", `/api/shots/${id}/light/table`, { seen, name, text }),
  neutral: (id: number, position: number, x: number, y: number, revision: number, change: object) =>
    ask<Schemas["NeutralView"]>("GET", `/api/shots/${id}/light/stills/${position}/neutral?x=${x}&y=${y}&${over(revision, change)}`),
  hue: (id: number, position: number, x: number, y: number, revision: number, change: object) =>
    ask<Schemas["HueView"]>("GET", `/api/shots/${id}/light/stills/${position}/hue?x=${x}&y=${y}&${over(revision, change)}`),
  travel: (id: number, revision: number, change: object) => ask<Travel>("GET", `/api/shots/${id}/move/travel?${over(revision, change)}`),
  steadied: (id: number, revision: number, change: object) => ask<Steadied>("GET", `/api/shots/${id}/move/steady?${over(revision, change)}`),
  tradeOffs: (id: number, revision: number, change: object) => ask<TradeOff[]>("GET", `/api/shots/${id}/move/trade-offs?${over(revision, change)}`),
  observations: (id: number, position: number, revision: number, change: object) =>
    ask<Observation[]>("GET", `/api/shots/${id}/move/stills/${position}/observations?${over(revision, change)}`),
  pointed: (id: number, position: number, x: number, y: number, revision: number, change: object) =>
    ask<Schemas["PlaceAt"]>("GET", `/api/shots/${id}/move/stills/${position}/pointed?x=${x}&y=${y}&${over(revision, change)}`),
  pickStills: (id: number, seen: number, every: number) => ask<Revised>("POST", `/api/shots/${id}/move/pick`, { seen, every }),
  measureMove: (id: number) => ask<Job | null>("POST", `/api/shots/${id}/move/measure`),
  usualMove: (id: number, revision: number, change: object, name: UsualMove, amount: number) =>
    ask<Decisions["move"]>("GET", `/api/shots/${id}/move/usual?name=${encodeURIComponent(name)}&amount=${amount}&${over(revision, change)}`),
  sizes: (id: number) => ask<ShapeChoice[]>("GET", `/api/shots/${id}/fit/sizes`),
  advice: (id: number, width: number, height: number) =>
    ask<SizeAdvice | null>("GET", `/api/shots/${id}/fit/advice?width=${width}&height=${height}`),
  level: (id: number, line: [number, number, number, number], fit: Fit) =>
    ask<{ level: number }>("POST", `/api/shots/${id}/fit/level`, { line, fit }),
  cutoff: (id: number, revision: number, change: object) =>
    ask<Cutoffs>("GET", `/api/shots/${id}/fit/cutoff?${over(revision, change)}`),
  colour: (id: number, position: number, x: number, y: number, revision: number) =>
    ask<{ colour: string }>("GET", `/api/shots/${id}/fit/stills/${position}/colour?x=${x}&y=${y}&revision=${revision}`),
  ways: (id: number, length: string, revision: number, change: object) =>
    ask<Way[]>("GET", `/api/shots/${id}/pace/ways?length=${encodeURIComponent(length)}&${over(revision, change)}`),
  frames: (id: number, text: string, rate: string) =>
    ask<{ frames: number; sentence: string }>(
      "GET",
      `/api/shots/${id}/pace/frames?text=${encodeURIComponent(text)}&rate=${encodeURIComponent(rate)}`,
    ),
  playback: (id: number, revision: number, change: object) =>
    ask<Playback>("GET", `/api/shots/${id}/pace/play?${over(revision, change)}`),
  addVersion: (id: number, seen: number, name: string) =>
    ask<Revised>("POST", `/api/shots/${id}/versions`, { seen, name }),
  openVersion: (id: number, seen: number, version: number) =>
    ask<Revised>("POST", `/api/shots/${id}/versions/open`, { seen, version }),
  renameVersion: (id: number, version: number, name: string) =>
    ask<Version[]>("PUT", `/api/shots/${id}/versions/${version}`, { name }),
  deleteVersion: (id: number, version: number) => ask<Version[]>("DELETE", `/api/shots/${id}/versions/${version}`),
  presets: () => ask<Preset[]>("GET", "/api/presets"),
  keepPreset: (id: number, name: string) => ask<Preset[]>("POST", `/api/shots/${id}/presets`, { name }),
  applyPreset: (id: number, seen: number, preset: number) =>
    ask<Revised>("POST", `/api/shots/${id}/presets/apply`, { seen, preset }),
  deletePreset: (preset: number) => ask<Preset[]>("DELETE", `/api/presets/${preset}`),
  importPresets: (text: string) => ask<Preset[]>("POST", "/api/presets/import", { text }),
  encodeChoices: () => ask<EncodeChoices>("GET", "/api/encode/choices"),
  encode: (of: Owner, seen: number, wish: EncodeWish = {}) => ask<Job>("POST", `/api/${of.kind}/${of.id}/encode`, { seen, ...wish }),
  offers: (of: Owner, pattern: string) => ask<Offers>("GET", `/api/${of.kind}/${of.id}/offers?pattern=${encodeURIComponent(pattern)}`),
  measureOffers: (of: Owner, every: boolean) => ask<Job | null>("POST", `/api/${of.kind}/${of.id}/offers/measure?every=${every}`),
  snippet: (clip: number) => askText(`/api/clips/${clip}/snippet`),
  clips: (id: number) => ask<Clip[]>("GET", `/api/shots/${id}/clips`),
  plans: (project: number) => ask<Planned[]>("GET", `/api/projects/${project}/plans`),
  addPlan: (project: number, planned: Partial<PlannedShot>) => ask<Planned>("POST", `/api/projects/${project}/plans`, planned),
  planAsShot: (shot: number) => ask<{ plan: Planned; sentence: string }>("POST", `/api/shots/${shot}/plan`),
  orderPlans: (project: number, plans: number[]) => ask<Planned[]>("PUT", `/api/projects/${project}/plans/order`, { plans }),
  keepPlan: (id: number, seen: number, planned: PlannedShot) => ask<Planned>("PUT", `/api/plans/${id}`, { seen, planned }),
  changePlan: (id: number, seen: number, quantity: Quantity, text: string) =>
    ask<Planned>("POST", `/api/plans/${id}/change`, { seen, quantity, text }),
  deletePlan: (id: number) => ask<void>("DELETE", `/api/plans/${id}`),
  takePlanBack: (id: number) => ask<Planned>("POST", `/api/plans/${id}/take-back`),
  subjects: (rate: string) => ask<Subject[]>("GET", `/api/plan/subjects?rate=${encodeURIComponent(rate)}`),
  duration: (text: string) => ask<Schemas["DurationView"]>("GET", `/api/plan/duration?text=${encodeURIComponent(text)}`),
  stillSize: (megapixels: number, raw: boolean, jpeg: boolean) =>
    ask<Schemas["StillSize"]>("GET", `/api/plan/still-size?megapixels=${megapixels}&raw=${raw}&jpeg=${jpeg}`),
  suiting: (crossing_s: number, rate: string, on_screen_s: number) =>
    ask<Suited>("GET", `/api/plan/suiting?crossing_s=${crossing_s}&rate=${encodeURIComponent(rate)}&on_screen_s=${on_screen_s}`),
  crossing: (first: File, second: File, rate: string, on_screen_s: number, apart_s?: number) => measureCrossing(first, second, rate, on_screen_s, apart_s),
  projectForClip: (name: string) => ask<{ project_id: number }>("POST", "/api/clip-now/project", { name }),
  beginClip: (root: string, path: string) => ask<ShotStarted>("POST", "/api/clip-now", { root, path }),
  proposeAnswers: (shot: number) => ask<Proposals>("GET", `/api/shots/${shot}/clip-now`),
  tryAnswers: (shot: number, answers: Answers) => ask<TriedAnswers>("POST", `/api/shots/${shot}/clip-now/try`, answers),
  makeClip: (shot: number, answers: Answers, reel: number | null) => ask<Schemas["MakingView"]>("POST", `/api/shots/${shot}/clip-now`, { answers, reel }),
  cameras: () => ask<CameraFound[]>("GET", "/api/cameras"),
  cameraState: (key: string) => ask<CameraState>("GET", `/api/cameras/state?key=${encodeURIComponent(key)}`),
  setCamera: (key: string, exposure_s: number, sensitivity: number) =>
    ask<NonNullable<CameraState["settings"]>>("PUT", `/api/cameras/settings?key=${encodeURIComponent(key)}`, { exposure_s, sensitivity }),
  captureBrief: (capture: Capture, rate: string) => ask<{ sentence: string }>("POST", "/api/capture/brief", { capture, rate }),
  beginCapture: (project: number, name: string, capture: Capture, planned: PlannedShot | null) =>
    ask<ShotStarted>("POST", `/api/projects/${project}/captures`, { name, capture, planned }),
  captureOf: (shot: number) => ask<Captured | null>("GET", `/api/shots/${shot}/capture`),
  pauseCapture: (job: number) => ask<void>("POST", `/api/captures/${job}/pause`),
  goOnCapturing: (job: number) => ask<void>("POST", `/api/captures/${job}/go-on`),
  stopCapture: (job: number) => ask<Job>("POST", `/api/captures/${job}/stop`),
  watchFolder: (shot: number) => ask<Job>("POST", `/api/shots/${shot}/watch`),
  liveView,
  reels: (project: number) => ask<ReelSummary[]>("GET", `/api/projects/${project}/reels`),
  addReel: (project: number, name: string, shots: number[]) => ask<ReelDetail>("POST", `/api/projects/${project}/reels`, { name, shots }),
  addReelOfShot: (shot: number) => ask<ReelDetail>("POST", `/api/shots/${shot}/reel`),
  takeReelBack: (id: number) => ask<void>("POST", `/api/reels/${id}/take-back`),
  reel: (id: number) => ask<ReelDetail>("GET", `/api/reels/${id}`),
  renameReel: (id: number, name: string) => ask<ReelDetail>("PATCH", `/api/reels/${id}`, { name }),
  deleteReel: (id: number) => ask<void>("DELETE", `/api/reels/${id}`),
  decideReel: (id: number, seen: number, decisions: Reel) => ask<RevisedReel>("PUT", `/api/reels/${id}/decisions`, { seen, decisions }),
  undoReel: (id: number, seen: number) => ask<RevisedReel>("POST", `/api/reels/${id}/undo`, { seen }),
  redoReel: (id: number, seen: number) => ask<RevisedReel>("POST", `/api/reels/${id}/redo`, { seen }),
  reelPlayback: (id: number, revision: number) => ask<ReelPlayback>("GET", `/api/reels/${id}/play?revision=${revision}`),
  titleBoxes: (id: number, frame: number, revision: number, tried?: Reel) =>
    ask<TitleBox[]>("GET", `/api/reels/${id}/frames/${frame}/titles?${reelOver(revision, tried)}`),
  ropes: (id: number, revision: number, tried: Reel | undefined, rows: number) =>
    ask<Rope[]>("GET", `/api/reels/${id}/ropes?rows=${rows}&${reelOver(revision, tried)}`),
  trackWays: (id: number, track: number, revision: number) => ask<FitWay[]>("GET", `/api/reels/${id}/tracks/${track}/ways?revision=${revision}`),
  sounds: (project: number) => ask<ProjectSound[]>("GET", `/api/projects/${project}/sounds`),
  deleteSound: (id: number) => ask<void>("DELETE", `/api/sounds/${id}`),
  logos: (project: number) => ask<Logo[]>("GET", `/api/projects/${project}/logos`),
  madeKinds: () => ask<MadeKind[]>("GET", "/api/made-sounds"),
  sendSound: (id: number, file: File) => sendFile<Job>(`/api/reels/${id}/sounds`, file),
  sendLogo: (id: number, file: File) => sendFile<Logo>(`/api/reels/${id}/logos`, file),
  makeSound: (id: number, made: Schemas["Made"]) => ask<Job>("POST", `/api/reels/${id}/made-sounds`, made),
  soundOfFootage: (id: number, part: number) => ask<Job>("POST", `/api/reels/${id}/parts/${part}/sound`),
  readReel: (project: number, text: string) => ask<Schemas["ReadReelView"]>("POST", `/api/projects/${project}/reels/read`, { text }),
  reelClips: (id: number) => ask<Clip[]>("GET", `/api/reels/${id}/clips`),
  jobs: () => ask<Job[]>("GET", "/api/jobs"),
  cancel: (job: number) => ask<Job>("POST", `/api/jobs/${job}/cancel`),
  queue: () => ask<Queued[]>("GET", "/api/jobs/queue"),
  pauseJob: (job: number) => ask<Job>("POST", `/api/jobs/${job}/pause`),
  goOnWithJob: (job: number) => ask<Job>("POST", `/api/jobs/${job}/go-on`),
  putJobBefore: (job: number, other: number | null) => ask<Queued[]>("POST", `/api/jobs/${job}/before`, { other }),
};

export const addresses = {
  tail: (shot: number, version: number) => `/api/shots/${shot}/tail.png?version=${version}`,
  still: (shot: number, still: Still, width: number) =>
    `/api/shots/${shot}/stills/${still.position}.jpg?width=${width}&${stateNow()}`,
  framed: (shot: number, still: Still, revision: number, change: object, width: number, quickly = false) =>
    `/api/shots/${shot}/stills/${still.position}/frame.jpg?width=${width}&${stateNow()}` +
    `&quickly=${quickly}&${over(revision, change)}`,
  frame: (shot: number, frame: number, revision: number, change: object, width: number, quickly: boolean) =>
    `/api/shots/${shot}/frames/${frame}.jpg?width=${width}&quickly=${quickly}&${stateNow()}&${over(revision, change)}`,
  veil: (shot: number, still: Still, kind: string, revision: number, change: object, width: number) =>
    `/api/shots/${shot}/light/stills/${still.position}/veil.png?kind=${kind}&width=${width}&${stateNow()}&${over(revision, change)}`,
  look: (shot: number, still: Still, look: Look, revision: number, width: number) =>
    `/api/shots/${shot}/light/stills/${still.position}/look.jpg?width=${width}&${stateNow()}&revision=${revision}` +
    `&name=${encodeURIComponent(look.name)}${look.id === null ? "" : `&look=${look.id}`}`,
  cube: (shot: number, still: Still, revision: number) => `/api/shots/${shot}/light/stills/${still.position}/light.cube?revision=${revision}`,
  around: (shot: number, still: Still, revision: number, change: object, width: number) =>
    `/api/shots/${shot}/fit/stills/${still.position}/around.jpg?width=${width}&${stateNow()}&${over(revision, change)}`,
  wholeAround: (shot: number, kind: string, first: number, last: number, revision: number, change: object) =>
    `/api/shots/${shot}/fit/stack/${kind}.jpg?first=${first}&last=${last}&${over(revision, change)}`,
  reelFrame: (reel: number, frame: number, revision: number, tried: Reel | undefined, width: number, quickly: boolean) =>
    `/api/reels/${reel}/frames/${frame}.jpg?width=${width}&quickly=${quickly}&${reelOver(revision, tried)}`,
  reelTail: (reel: number, revision: number) => `/api/reels/${reel}/tail.png?revision=${revision}`,
  reelSound: (key: string, first: number, frames: number) => `/api/reel-sound/${key}/${first}-${frames}.mp4`,
  reelList: (reel: number, kind: "otio" | "edl" | "vtt") => `/api/reels/${reel}/reel.${kind}`,
  segment: (key: string) => `/api/segments/${key}.mp4`,
  presets: "/api/presets.json",
  mended: (shot: number, still: Still, revision: number, width: number) =>
    `/api/shots/${shot}/stills/${still.position}/used.jpg?width=${width}&${stateNow()}&revision=${revision}`,
  tried: (shot: number, still: Still, revision: number, remedy: string, of: { first: number; last: number }, width: number) =>
    `/api/shots/${shot}/stills/${still.position}/try.jpg?width=${width}&${stateNow()}&revision=${revision}` +
    `&remedy=${remedy}&first=${of.first}&last=${of.last}`,
  difference: (shot: number, still: Still, width: number) =>
    `/api/shots/${shot}/stills/${still.position}/difference.jpg?width=${width}&${stateNow()}`,
  clipped: (shot: number, still: Still, width: number) =>
    `/api/shots/${shot}/stills/${still.position}/clipped.jpg?width=${width}&${stateNow()}`,
  spot: (shot: number, still: Still, x: number, y: number, width: number, height: number) =>
    `/api/shots/${shot}/stills/${still.position}/spot.jpg?${stateNow()}` +
    `&x=${x.toFixed(5)}&y=${y.toFixed(5)}&width=${width}&height=${height}`,
  whole: (shot: number, kind: string, first: number, last: number, of: string, ending: "jpg" | "png" = "jpg") =>
    `/api/shots/${shot}/stack/${kind}.${ending}?first=${first}&last=${last}&of=${of}`,
  planList: (project: number, format: "csv" | "ics") => `/api/projects/${project}/plans.${format}`,
  list: (shot: number, format: "csv" | "otio") => `/api/shots/${shot}/list.${format}`,
  clip: (clip: number) => `/api/clips/${clip}/file`,
  shotFile: (shot: number) => `/api/shots/${shot}/shot.json`,
  reelFile: (reel: number) => `/api/reels/${reel}/reel.json`,
  clipFrame: (clip: number, frame: number) => `/api/clips/${clip}/frames/${frame}.png`,
  standIn: (clip: number) => `/api/clips/${clip}/stand-in`,
  poster: (clip: number, frame: number) => `/api/clips/${clip}/poster.jpg?frame=${frame}`,
  download: (clip: number) => `/api/clips/${clip}/file?download=true`,
};
