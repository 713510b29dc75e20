/** Return a value as a share: not below nothing, and not beyond all of it. */
export function asShare(value: number): number {
  return Math.max(0, Math.min(1, value));
}
