/** How the pages ask the program: every address and what it gives are checked against the interface itself. */
import createClient, { createQuerySerializer, defaultPathSerializer } from "openapi-fetch";
import { ref } from "vue";

import type { paths } from "./schema";
import type { Reel, Schemas } from "./types";

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

export async function problemOf(response: Response): Promise<Problem> {
  try {
    const problem = (await response.json()) as Schemas["Problem"];
    return new Problem(problem.code, response.status, problem.detail);
  } catch {
    return new Problem("unexpected", response.status, `The program answered with an error (${response.status}).`);
  }
}

/** Fetch something of the program; what it refuses, and that it does not answer, is a problem. */
export async function fetched(asked: Request | string, options?: RequestInit): Promise<Response> {
  const response = await fetch(asked, options).catch(() => {
    throw new Problem("unreachable", 0, unreachable);
  });
  // Whoever is not known any more is told how to get in by the page itself.
  if (response.status === 401) globalThis.location?.reload();
  if (!response.ok) throw await problemOf(response);
  return response;
}

export const http = createClient<paths>({ baseUrl: globalThis.location?.origin, fetch: (request) => fetched(request) });

/** Return what was asked for; where it was not given, `fetched` has said why. */
export async function got<Data>(asked: Promise<{ data?: Data }>): Promise<Data> {
  return (await asked).data as Data;
}

type Given<Way> = Way extends { get: { parameters: infer Parameters } }
  ? Pick<Parameters, keyof Parameters & ("path" | "query")>
  : never;
const written = createQuerySerializer();

/**
 * Return an address the browser itself fetches something from: a picture, a file. `also` is part of the address without
 * being asked for: where it differs, the browser fetches anew.
 */
export function address<Way extends keyof paths>(
  way: Way,
  given: Given<paths[Way]>,
  also: Record<string, string | number> = {},
): string {
  const { path, query } = given as { path?: Record<string, never>; query?: Record<string, unknown> };
  const said = written({ ...query, ...also });
  return (path ? defaultPathSerializer(way, path) : way) + (said && `?${said}`);
}

/** The state of the stills of the shot that is open: part of the addresses of its pictures, which change with it. */
export const stillsState = ref("");

export function stateNow(): { state: string } {
  return { state: stillsState.value };
}

/** The decisions a picture is asked for with: those of a revision, with a change on top. */
export function over(revision: number, change: object): { revision: number; change: string } {
  return { revision, change: JSON.stringify(change, unlessNeutral) };
}

/** A setting that does nothing is what the server takes it for anyway; addresses stay short without it. */
function unlessNeutral(name: string, value: unknown): unknown {
  if (name === "strength" || typeof value !== "object" || value === null) return value;
  const { value: number, keyframes } = value as { value?: unknown; keyframes?: unknown[] };
  return number === 0 && keyframes?.length === 0 ? undefined : value;
}

/** The decisions a reel's pictures are asked for with: those of a revision, or those that are being tried. */
export function reelOver(revision: number, tried?: Reel): { revision: number; tried?: string } {
  return tried ? { revision, tried: JSON.stringify(tried) } : { revision };
}
