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
    name: folder || "Stills",
    files: files.map((file) => ({ name: file.webkitRelativePath.split("/").slice(1).join("/") || file.name, file })),
  };
}

/** What was dropped, folders with all that is in them, or loose files: as one, or each folder by itself. */
export async function droppedFolders(transfer: DataTransfer, apart: boolean): Promise<ChosenFolder[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const each = apart && entries.length > 1 && entries.every((entry) => entry.isDirectory);
  const folders: ChosenFolder[] = [];
  for (const some of each ? entries.map((entry) => [entry]) : [entries]) folders.push(await together(some));
  return folders;
}

async function together(entries: FileSystemEntry[]): Promise<ChosenFolder> {
  const [only] = entries;
  const single = entries.length === 1 && only?.isDirectory;
  const files: Chosen[] = [];
  for (const entry of entries) await collect(entry, single ? "" : undefined, files);
  return { name: (single && only?.name) || "Stills", files };
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
