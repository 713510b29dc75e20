/** What is decided about a reel, in the order it usually is. */
export const tabs = ["order", "titles", "sound", "finish"] as const;
export type Tab = (typeof tabs)[number];

export const tabWords: Record<Tab, string> = {
  order: "running order",
  titles: "titles",
  sound: "sound",
  finish: "finish",
};

export function isTab(name: unknown): name is Tab {
  return tabs.includes(name as Tab);
}
