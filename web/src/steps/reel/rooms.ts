/** What is decided about a reel, in the order it usually is. */
export const rooms = ["order", "titles", "sound", "finish"] as const;
export type Room = (typeof rooms)[number];

export const roomWords: Record<Room, string> = {
  order: "running order",
  titles: "titles",
  sound: "sound",
  finish: "finish",
};

export function isRoom(name: unknown): name is Room {
  return rooms.includes(name as Room);
}
