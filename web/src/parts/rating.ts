/** How stills are rated: 1 to 5, 0 for not at all, -1 for rejected. */
export const REJECTED = -1;

export function ratingWords(rating: number, label = ""): string {
  const words = rating === REJECTED ? "rejected" : "★".repeat(Math.max(0, rating));
  return [words, label].filter(Boolean).join(" ");
}
