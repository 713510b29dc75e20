/** Everything that can be set, by the words people look for it under: those on the screen, the trade's, everyday. */
import type { Step } from "../stores/steps";

export interface Control {
  step: Step;
  /** The part of the step it stands in, as the button above it says. */
  section?: string;
  /** How what it says on the screen, or is told to those who do not see it, begins. */
  says: string;
  /** What else people call it. */
  words: string;
}

function inStep(step: Step, section: string | undefined, found: Record<string, string>): Control[] {
  return Object.entries(found).map(([says, words]) => ({ step, section, says, words }));
}

export const controls: readonly Control[] = [
  ...inStep("gather", undefined, {
    "look for new and changed files": "refresh reload update rescan",
    "watch the folder": "tethered live grow while shooting",
    "delete this shot": "remove",
  }),
  ...inStep("order", "Order", {
    "Order by": "sort sequence number counter capture time date name",
    "save as CSV": "list table spreadsheet export",
    "save as OpenTimelineIO": "timeline editor interchange otio",
    "set aside": "skip exclude leave out reject drop",
    "move …": "drag reorder",
    "reverse all": "backwards",
    "split before": "cut divide two shots",
    "take out": "remove still",
  }),
  ...inStep("order", "Names", { Names: "rename pattern numbered pictures image sequence files developed stills" }),
  ...inStep("check", undefined, {
    "begin at": "trim in point start first still",
    "end at": "trim out point last still",
    "mark a spot": "dust dirt speck sensor clean heal retouch remove",
    "Note on still": "comment remark write down",
    Rating: "stars rate favourite keeper reject XMP label",
  }),
  ...inStep("light", "even", {
    "even out flicker": "deflicker flickering brightness jumps aperture",
    "take out changes of exposure": "steps day to night sunset sunrise ramp jumps shutter ISO",
    "take out lamps": "light switched on off car headlights",
    "even out colour": "white balance wanders drift colour flicker",
    "take out bands": "banding stripes LED neon mains",
  }),
  ...inStep("light", "brightness", {
    "How bright becomes how bright": "curve curves tone tonal",
    "stripes over what is black or white": "clipping zebra overexposed underexposed blown out warning histogram",
    exposure: "brighter darker stops gain EV",
    contrast: "punch flat",
    "black point": "shadows blacks crushed lift",
    "white point": "whites highlights",
    "soften the brightest": "highlights recover roll off shoulder overexposed sky",
    "brighten the corners": "vignette vignetting dark corners falloff",
  }),
  ...inStep("light", "colour", {
    "The colour everything": "tint cast split toning grade shadows highlights",
    "something here is grey": "white balance picker pipette neutral grey card",
    warmth: "white balance temperature kelvin warm cold blue orange",
    "red against green": "tint magenta green cast",
    Hues: "hue selective colour greens blues sky leaves",
    "black and white": "monochrome greyscale desaturate",
    "more or less colour": "saturation colourful",
    "of what is muted alone": "vibrance saturation skin",
  }),
  ...inStep("light", "surface", {
    "fine contrast": "texture structure detail clarity near",
    "coarse contrast": "local contrast clarity depth far",
    "take away haze": "dehaze fog mist",
    sharpening: "sharpen edges crisp unsharp blurred soft",
    fringing: "defringe purple green coloured rims edges",
    "aberration of red": "chromatic aberration lateral fringe rims",
    "aberration of blue": "chromatic aberration lateral fringe rims",
    "take out": "lens profile correction distortion vignetting",
    "average with stills before and after": "noise grain denoise temporal night stars",
    "in each still: brightness": "noise grain denoise luminance ISO",
    "in each still: colour": "noise grain denoise chroma colour ISO",
  }),
  ...inStep("light", "areas", {
    "a gradient": "graduated filter sky mask local linear",
    "an ellipse": "radial mask local spot circle",
    "a brush": "paint mask local dodge burn",
    "by colour or brightness": "range mask select sky",
  }),
  ...inStep("light", "looks", {
    "Keep as a look": "preset save style",
    "follow a developed picture": "match reference same as edited elsewhere developed raw",
    "read a .cube file": "LUT table grade import film",
    "write this light as .cube": "LUT table export",
  }),
  ...inStep("fit", undefined, {
    "Shape of the clip": "aspect ratio format 16:9 vertical portrait square crop",
    "Size of the clip": "resolution 4K UHD HD pixels width height",
    "How a still fits": "crop letterbox bars fill stretch",
    "Where the picture is held": "position crop centre top bottom",
    "How much closer": "zoom crop enlarge scale",
    level: "horizon straighten rotate tilt crooked",
    "quarter turn left": "rotate 90",
    mirror: "flip reflect",
    "all around the frame": "outside overscan see the whole",
    "Lens and perspective": "distortion barrel cushion fisheye keystone uprights converging verticals",
    Sharpening: "sharpen output screen crisp",
    "keep small lights bright": "stars lamps glitter night",
  }),
  ...inStep("move", "travel", {
    "by how much": "zoom pan amount",
    "push in": "zoom in closer",
    "pull out": "zoom out wider",
    "drift left": "pan slide",
    "drift right": "pan slide",
    "turn a little": "rotate roll",
  }),
  ...inStep("move", "steady", {
    "stand still": "stabilise stabilize steady shake wobble tripod wind jitter",
    glide: "smooth walk drone hand held hyperlapse walking",
    "anchor a point": "track follow lock on",
  }),
  ...inStep("move", "miniature look", { "how much": "tilt shift miniature toy blur" }),
  ...inStep("pace", undefined, {
    "Frames per second": "frame rate fps 24 25 30 60",
    "each still stays": "speed duration hold slower faster",
    "the last one": "hold end freeze",
    "Wanted length": "duration seconds minutes shorter longer",
    "Speed over the shot": "ramp slow fast ease time remap",
    "slow start": "ease in",
    "slow end": "ease out",
    "by the clock": "uneven intervals gaps real time",
    "Which stills are used": "every second third fewer skip thin out",
    "In which direction": "reverse backwards loop there and back",
    "begin at": "trim in point start",
    "end at": "trim out point",
    "Between stills": "blend motion blur trails star trails long exposure interpolate smooth",
  }),
  ...inStep("encode", undefined, {
    "publish on the web": "mp4 H.264 upload",
    "cut it further": "ProRes DNxHR master editor intermediate mov",
    "keep it for ever": "lossless archive FFV1",
    "a small one": "megabytes file size email limit",
    "stills for another program": "image sequence TIFF PNG frames numbered",
    "settings of the format": "codec container quality bit rate crf 10 bit HDR HLG PQ",
    "put it into a folder": "where save to output",
    "Name of the file": "rename pattern called",
    "try two seconds": "test preview sample",
    "add sound or a title": "music audio text caption credits reel join",
  }),
];

/** The controls that have every word that was typed, or its begin, those that say it themselves first. */
export function found(typed: string): Control[] {
  const wanted = wordsOf(typed).filter(Boolean);
  if (!wanted.length) return [];
  const ranked = controls.map((control) => ({ control, rank: rankOf(control, wanted) }));
  return ranked
    .filter(({ rank }) => rank > 0)
    .sort((one, other) => other.rank - one.rank)
    .map(({ control }) => control);
}

function rankOf({ says, words, step, section }: Control, wanted: string[]): number {
  const own = wordsOf(says);
  const others = wordsOf(`${words} ${step} ${section ?? ""}`);
  let rank = says.toLowerCase() === wanted.join(" ") ? 10 : 0;
  for (const word of wanted) {
    const best = Math.max(own.includes(word) ? 4 : 0, startsOne(own, word) * 3, others.includes(word) ? 2 : 0);
    const here = best || startsOne(others, word);
    if (!here) return 0;
    rank += here;
  }
  return rank;
}

function wordsOf(text: string): string[] {
  return text.toLowerCase().split(/[^\p{L}\p{N}.:]+/u);
}

function startsOne(words: string[], begin: string): number {
  return words.some((one) => one.startsWith(begin)) ? 1 : 0;
}
