import type { components } from "./schema";

type Schemas = components["schemas"];
type Whole<Part> = Part extends object ? { [Name in keyof Part]-?: Whole<Part[Name]> } : Part;
export type Project = Schemas["ProjectView"];
export type ProjectDetail = Schemas["ProjectDetail"];
export type Decisions = Whole<Schemas["Decisions"]>;
export type Shot = Schemas["ShotDetail"] & { decisions: Decisions };
export type Revised = Schemas["Revised"] & { decisions: Decisions };
export type Brief = Schemas["BriefView"];
export type Stills = Schemas["StillsView"];
export type Still = Schemas["StillView"];
export type Order = Schemas["OrderView"];
export type PatternPart = Whole<Schemas["PatternPart"]>;
export type RenamePlan = Schemas["PlanView"];
export type RenameLine = Schemas["LineView"];
export type LastRename = Schemas["LastRename"];
export type Job = Schemas["JobView"];
export type Clip = Schemas["ClipView"];
export type Place = Schemas["PlaceView"];
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
  return (await response.json()) as Answer;
}

export async function problemOf(response: Response): Promise<Problem> {
  try {
    const problem = (await response.json()) as Schemas["Problem"];
    return new Problem(problem.code, response.status, problem.detail);
  } catch {
    return new Problem("unexpected", response.status, `The program answered with an error (${response.status}).`);
  }
}

export const api = {
  projects: () => ask<Project[]>("GET", "/api/projects"),
  addProject: (name: string) => ask<Project>("POST", "/api/projects", { name }),
  renameProject: (id: number, name: string) => ask<Project>("PUT", `/api/projects/${id}`, { name }),
  project: (id: number) => ask<ProjectDetail>("GET", `/api/projects/${id}`),
  places: () => ask<Place[]>("GET", "/api/places"),
  folder: (place: string, path: string) =>
    ask<Folder>("GET", `/api/places/${encodeURIComponent(place)}/folder?path=${encodeURIComponent(path)}`),
  gatherFolder: (project: number, place: string, path: string) =>
    ask<ShotStarted>("POST", `/api/projects/${project}/shots`, { place, path }),
  gatherAgain: (shot: number) => ask<ShotStarted>("POST", `/api/shots/${shot}/gather`),
  openUpload: (project: number, announcement: Schemas["Announcement"]) =>
    ask<Upload>("POST", `/api/projects/${project}/uploads`, announcement),
  completeUpload: (upload: number) => ask<ShotStarted>("POST", `/api/uploads/${upload}/complete`),
  shot: (id: number) => ask<Shot>("GET", `/api/shots/${id}`),
  stills: (id: number) => ask<Stills>("GET", `/api/shots/${id}/stills`),
  order: (id: number) => ask<Order>("GET", `/api/shots/${id}/order`),
  planNames: (id: number, parts: PatternPart[]) => ask<RenamePlan>("POST", `/api/shots/${id}/rename/plan`, { parts }),
  rename: (id: number, parts: PatternPart[], plan: string) =>
    ask<Schemas["Renamed"]>("POST", `/api/shots/${id}/rename`, { parts, plan }),
  lastRename: (id: number) => ask<LastRename | null>("GET", `/api/shots/${id}/rename`),
  undoRename: (id: number) => ask<Schemas["Renamed"]>("POST", `/api/shots/${id}/rename/undo`),
  namesAsCsv: async (id: number, parts: PatternPart[]) => {
    const body = JSON.stringify({ parts });
    const headers = { "Content-Type": "application/json" };
    const response = await fetch(`/api/shots/${id}/rename/plan.csv`, { method: "POST", headers, body });
    if (!response.ok) throw await problemOf(response);
    return response.blob();
  },
  decide: (id: number, seen: number, decisions: Decisions) =>
    ask<Revised>("PUT", `/api/shots/${id}/decisions`, { seen, decisions }),
  brief: (id: number, decisions: Decisions) => ask<Brief>("POST", `/api/shots/${id}/brief`, decisions),
  encode: (id: number, seen: number) => ask<Job>("POST", `/api/shots/${id}/encode`, { seen }),
  clips: (id: number) => ask<Clip[]>("GET", `/api/shots/${id}/clips`),
  jobs: () => ask<Job[]>("GET", "/api/jobs"),
  cancel: (job: number) => ask<Job>("POST", `/api/jobs/${job}/cancel`),
};

export const addresses = {
  tail: (shot: number, version: number) => `/api/shots/${shot}/tail.png?version=${version}`,
  still: (shot: number, still: Still, width: number) =>
    `/api/shots/${shot}/stills/${still.position}.jpg?width=${width}&is=${still.fingerprint}`,
  frame: (shot: number, still: Still, frame: number, decisions: Decisions, width: number) =>
    `/api/shots/${shot}/frames/${frame}.jpg?width=${width}&is=${still.fingerprint}` +
    `&decisions=${encodeURIComponent(JSON.stringify(decisions))}`,
  clip: (clip: number) => `/api/clips/${clip}/file`,
  download: (clip: number) => `/api/clips/${clip}/file?download=true`,
};
