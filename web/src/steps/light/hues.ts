import type { Place } from "../../parts/drag";

/** How large the circle of hues is drawn, from its middle to where colours are full; the whole of it is 220 wide. */
export const radius = 92;

export function at(hue: number, reach: number): { x: number; y: number } {
  const angle = (hue * Math.PI) / 180;
  return { x: Math.cos(angle) * reach, y: -Math.sin(angle) * reach };
}

export function arc(from: number, to: number, inner: number, outer: number): string {
  const large = to - from > 180 ? 1 : 0;
  const [a, b, c, d] = [at(from, outer), at(to, outer), at(to, inner), at(from, inner)];
  return `M${a.x} ${a.y}A${outer} ${outer} 0 ${large} 0 ${b.x} ${b.y}L${c.x} ${c.y}${inner ? `A${inner} ${inner} 0 ${large} 1 ${d.x} ${d.y}` : ""}Z`;
}

export function where(share: Place): { angle: number; reach: number } {
  const [x, y] = [(share.x - 0.5) * 220, (share.y - 0.5) * 220];
  return { angle: (Math.atan2(-y, x) * 180) / Math.PI, reach: Math.hypot(x, y) };
}

export function apart(one: number, other: number): number {
  return ((((one - other + 180) % 360) + 360) % 360) - 180;
}

export function within(value: number, most: number, parts: number): number {
  return Math.round(Math.max(-most, Math.min(most, value)) * parts) / parts;
}
