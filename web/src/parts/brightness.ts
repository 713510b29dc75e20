/** An SVG path down the shot: how bright each still is, dark at the left, by stops rather than by raw light. */
export function brightnessPath(stills: readonly { luminance: number }[], width: number, height: number): string {
  if (!stills.length || !height) return "";
  const steps = stills.map((still) => Math.log2(Math.max(still.luminance, 1e-4)));
  const darkest = Math.min(...steps) - 0.25;
  const brightest = Math.max(...steps) + 0.25;
  return steps
    .map((step, index) => {
      const x = 4 + ((step - darkest) / (brightest - darkest)) * width;
      const y = ((index + 0.5) / steps.length) * height;
      return `${index ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
}
