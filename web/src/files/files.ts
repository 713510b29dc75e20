export interface Chosen {
  /** Path relative to the chosen folder. */
  name: string;
  file: File;
}

export interface ChosenFolder {
  name: string;
  files: Chosen[];
}

/** What a folder chooser gives, paths relative to the chosen folder. */
export function pickedFiles(list: FileList | null): ChosenFolder {
  const files = [...(list ?? [])];
  const [first] = files;
  const folder = first?.webkitRelativePath.split("/")[0] ?? "";
  return {
    name: folder || nameOf(files),
    files: files.map((file) => ({ name: file.webkitRelativePath.split("/").slice(1).join("/") || file.name, file })),
  };
}

/** What was dropped: each folder with all that is in it, each film, and loose stills as one. */
export async function droppedFolders(transfer: DataTransfer): Promise<ChosenFolder[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const folders = await Promise.all(entries.filter((entry) => entry.isDirectory).map((entry) => together([entry])));
  const { files: loose } = await together(entries.filter((entry) => entry.isFile));
  return [...folders, ...apart(loose)];
}

/** What was chosen among files: each film by itself, and all else as the stills of one shot. */
export function apart(files: readonly Chosen[]): ChosenFolder[] {
  const films = files.filter(({ file }) => file.type.startsWith("video/"));
  const stills = files.filter((one) => !films.includes(one));
  const each = films.map((one) => ({ name: one.file.name, files: [one] }));
  return stills.length ? [{ name: nameOf(stills.map(({ file }) => file)), files: stills }, ...each] : each;
}

/** Loose files have no folder they are named after; one alone has its own name. */
function nameOf(files: readonly File[]): string {
  return files.length === 1 ? files[0]!.name : "Stills";
}

async function together(entries: FileSystemEntry[]): Promise<ChosenFolder> {
  const [only] = entries;
  const single = entries.length === 1 && only?.isDirectory;
  const files: Chosen[] = [];
  for (const entry of entries) await collect(entry, single ? "" : undefined, files);
  return { name: (single && only?.name) || nameOf(files.map(({ file }) => file)), files };
}

/** Add all files below an entry; `inside` is the path so far, `""` for the dropped folder itself. */
async function collect(entry: FileSystemEntry, inside: string | undefined, files: Chosen[]): Promise<void> {
  const path = inside === undefined ? entry.name : inside;
  if (entry.isFile) {
    const file = await new Promise<File>((found, failed) => (entry as FileSystemFileEntry).file(found, failed));
    files.push({ name: path || entry.name, file });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // A reader gives a hundred entries at a time, and none when it has given all.
    const some = await new Promise<FileSystemEntry[]>((found, failed) => reader.readEntries(found, failed));
    if (!some.length) return;
    for (const one of some) await collect(one, path ? `${path}/${one.name}` : one.name, files);
  }
}
