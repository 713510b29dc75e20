/**
 * Every colour, size of type and radius there is, by what it is for. Style sheets name them as variables, and so does
 * the preset of the components (`preset.ts`): another appearance is another set of the same names.
 */

type Colour =
  | "ink"
  | "soft-ink"
  | "paper"
  | "bright-paper"
  | "shade"
  | "hair"
  | "edge"
  | "kite"
  | "kite-dark"
  | "on-kite"
  | "line"
  | "line-dark"
  | "line-pale"
  | "line-ink"
  | "on-line"
  | "saffron"
  | "saffron-ink"
  | "saffron-pale"
  | "moss"
  | "moss-ink"
  | "moss-pale"
  | "day"
  | "night"
  | "mat-plain";

/** Paper and ink, as by daylight. */
const light: Record<Colour, string> = {
  ink: "#23262b",
  "soft-ink": "#5d5952",
  paper: "#f4f2ee",
  "bright-paper": "#fbfaf8",
  shade: "#ebe8e2",
  hair: "#d3cec4",
  edge: "#a49e93",
  kite: "#c8432f",
  "kite-dark": "#a53424",
  "on-kite": "#ffffff",
  line: "#1f5f7a",
  "line-dark": "#1b546c",
  "line-pale": "#d6e6ee",
  "line-ink": "#123a4a",
  "on-line": "#ffffff",
  saffron: "#c98a12",
  "saffron-ink": "#7d5405",
  "saffron-pale": "#f7ead0",
  moss: "#4d7a4a",
  "moss-ink": "#375a35",
  "moss-pale": "#e1ebdf",
  day: "#d9dde3",
  night: "#5b6470",
  "mat-plain": "#8b8b89",
};

/** A dark room: nothing around the picture is brighter than what is judged in it. */
const dark: Record<Colour, string> = {
  ink: "#c9c4ba",
  "soft-ink": "#a9a196",
  paper: "#1b1c1e",
  "bright-paper": "#232528",
  shade: "#2b2d30",
  hair: "#3d3f43",
  edge: "#5f6166",
  kite: "#a83b2a",
  "kite-dark": "#8e3022",
  "on-kite": "#f0e9e2",
  line: "#6fa5bd",
  "line-dark": "#84b4c9",
  "line-pale": "#21343d",
  "line-ink": "#b1cfdc",
  "on-line": "#10181c",
  saffron: "#c8922f",
  "saffron-ink": "#d9ae62",
  "saffron-pale": "#392e1a",
  moss: "#749b70",
  "moss-ink": "#9abd96",
  "moss-pale": "#222e20",
  day: "#4a5058",
  night: "#23272d",
  "mat-plain": "#3c3d3e",
};

/** What lies over or around pictures, or shows colours themselves, is the same in any appearance. */
const always: Record<string, string> = {
  "mat-white": "#ffffff",
  "mat-grey": "#777777",
  "mat-black": "#000000",
  "picture-edge": "rgb(0 0 0 / 0.25)",
  "on-picture": "#ffffff",
  "on-picture-soft": "rgb(255 255 255 / 0.85)",
  "on-picture-faint": "rgb(255 255 255 / 0.2)",
  "under-mark": "rgb(0 0 0 / 0.55)",
  "outside-picture": "rgb(20 22 25 / 0.55)",
  "chosen-mark": "#ffb9ab",
  "faint-mark": "rgb(200 67 47 / 0.5)",
  "picture-label": "rgb(35 38 43 / 0.68)",
  "held-mark": "rgb(31 95 122 / 0.28)",
  "dial-ink": "#1d2327",
  "dial-grey": "#8a8a8a",
  "bar-grey": "#8a857b",
  "grain-light": "#d9d6cf",
  "grain-middle": "#bdb9b0",
  "grain-dark": "#98938a",
  "grain-ground": "#ccc8bf",
  "grain-line": "rgb(60 60 60 / 0.1)",
  "lean-green": "rgb(120 190 120 / 0.75)",
  "lean-magenta": "rgb(205 105 150 / 0.75)",
  "lean-none": "rgb(150 150 150 / 0.1)",
  "lean-blue": "rgb(110 150 215)",
  "lean-grey": "rgb(190 190 190)",
  "lean-amber": "rgb(230 165 90)",
  heading: '"Bricolage Grotesque Variable", sans-serif',
  text: '"Atkinson Hyperlegible", sans-serif',
  mono: '"DM Mono", monospace',
  "type-mark": "0.66rem",
  "type-tiny": "0.78rem",
  "type-small": "0.86rem",
  "type-near": "0.93rem",
  "type-body": "1rem",
  "type-lead": "1.2rem",
  "type-large": "1.6rem",
  "type-head": "2rem",
  round: "3px",
  "round-wide": "4px",
};

function variables(values: Record<string, string>): string {
  return Object.entries(values)
    .map(([name, value]) => `--${name}: ${value};`)
    .join(" ");
}

/** The variables as a style sheet; the dark ones hold where the root says so, and never on paper. */
export const sheet = `:root { color-scheme: light; ${variables({ ...light, ...always })} }
@media not print { :root[data-appearance="dark"] { color-scheme: dark; ${variables(dark)} } }`;
