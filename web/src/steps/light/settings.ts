import type { Decisions } from "../../api/client";

export type Light = Decisions["light"];
export type Setting = Light["exposure"];
/** What is decided about brightness, colour and surface, of the whole picture or of an area. */
export type Grade = Light["areas"][number]["grade"];

/** Return what lies in nested data under a path such as `hues.0.turn`. */
export function inside(data: unknown, path: string): unknown {
  return path.split(".").reduce<unknown>((found, name) => (found as Record<string, unknown> | undefined)?.[name], data);
}

export function settingAt(light: Light, path: string): Setting {
  return (inside(light, path) as Setting | undefined) ?? { value: 0, keyframes: [] };
}

/** Return the same data with another value under a path; what is not on the way to it is shared. */
export function withAt<Data>(data: Data, path: string, value: unknown): Data {
  const [name, ...rest] = path.split(".") as [string, ...string[]];
  const inner = rest.length ? withAt((data as Record<string, unknown>)[name], rest.join("."), value) : value;
  if (Array.isArray(data)) return data.map((one: unknown, index) => (index === Number(name) ? inner : one)) as Data;
  return { ...data, [name]: inner };
}

export function plain(value = 0): Setting {
  return { value, keyframes: [] };
}

/** Every setting that changes over the shot, by its path. */
export function changingSettings(data: unknown, path = ""): { path: string; keyframes: Setting["keyframes"] }[] {
  if (typeof data !== "object" || data === null) return [];
  if ("keyframes" in data) {
    const { keyframes } = data as Setting;
    return keyframes.length ? [{ path, keyframes }] : [];
  }
  return Object.entries(data).flatMap(([name, inner]) => changingSettings(inner, path ? `${path} ${name}` : name));
}
