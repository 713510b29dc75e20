/** What the controls offer first; any other even size can be typed. */
export const sizes = [
  { width: 1280, height: 720, name: "1280 × 720", hint: "small, for drafts and messages" },
  { width: 1920, height: 1080, name: "1920 × 1080", hint: "for most screens" },
  { width: 2560, height: 1440, name: "2560 × 1440", hint: "for large screens" },
  { width: 3840, height: 2160, name: "3840 × 2160", hint: "for the largest screens, or to crop later" },
  { width: 1080, height: 1920, name: "1080 × 1920", hint: "upright, for phones" },
  { width: 1080, height: 1080, name: "1080 × 1080", hint: "square" },
] as const;

export const rates = [
  { rate: "15", name: "15", hint: "a stepping, dreamlike look" },
  { rate: "24000/1001", name: "23.976", hint: "24 as television in some countries counts it" },
  { rate: "24", name: "24", hint: "cinema" },
  { rate: "25", name: "25", hint: "television in most of the world" },
  { rate: "30000/1001", name: "29.97", hint: "30 as television in some countries counts it" },
  { rate: "30", name: "30", hint: "screens and phones" },
  { rate: "50", name: "50", hint: "smooth" },
  { rate: "60000/1001", name: "59.94", hint: "60 as television in some countries counts it" },
  { rate: "60", name: "60", hint: "very smooth" },
] as const;

export const qualities = [
  { crf: 16, name: "very high", hint: "to cut into something longer" },
  { crf: 18, name: "high", hint: "looks like the stills" },
  { crf: 21, name: "good", hint: "to publish" },
  { crf: 24, name: "small file", hint: "to send" },
] as const;
