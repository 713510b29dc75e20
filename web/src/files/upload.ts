import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";

import { api, Problem, type SentFilm, type ShotStarted, type Upload } from "../api/client";
import type { Chosen, ChosenFolder } from "./files";

const atATime = 3;
const tryAgainMs = 1500;

/** The project something goes into, or how one is made once its name is known. */
export type Into = number | ((name: string) => Promise<number>);

class Broken extends Error {}

/** The folder that is being sent: several files at a time, going on after a broken connection where it stopped. */
export const useUpload = defineStore("upload", () => {
  const running = ref(false);
  const name = ref("");
  const trouble = ref("");
  const filesTotal = ref(0);
  const filesDone = ref(0);
  const bytesTotal = ref(0);
  const bytesDone = ref(0);
  const speed = ref(0);
  /** How many folders are still to be sent after the one that is. */
  const left = ref(0);
  /** The shots that were made of what was sent last, until somebody goes on with them. */
  const made = shallowRef<ShotStarted[]>([]);
  /** Films that were sent, by whom, and in which project: nobody said yet which stills are wanted. */
  const films = shallowRef<(SentFilm & { into: Into; project: number })[]>([]);
  const share = computed(() => (bytesTotal.value ? bytesDone.value / bytesTotal.value : 0));
  const secondsToGo = computed(() => (speed.value ? (bytesTotal.value - bytesDone.value) / speed.value : 0));

  const requests = new Set<XMLHttpRequest>();
  let cancelled = false;

  /**
   * Send folders into a project, each as a shot, and films, of which it is asked then what is to be taken; the project
   * may be asked for by the first one's name.
   */
  async function send(into: Into, folders: readonly ChosenFolder[]): Promise<void> {
    trouble.value = "";
    const full = folders.filter(({ files }) => files.length);
    const [first] = full;
    if (!first) {
      const named = folders[0] ? `“${folders[0].name}” has no files in it` : "There are no files in it";
      trouble.value = `${named}. Choose the folder the stills lie in.`;
      return;
    }
    running.value = true;
    cancelled = false;
    left.value = full.length;
    const started: ShotStarted[] = [];
    try {
      name.value = first.name;
      const project = typeof into === "number" ? into : await into(first.name.slice(0, 120));
      for (const folder of full) {
        left.value -= 1;
        name.value = folder.name;
        const upload = await sendAll(project, folder);
        if (!upload) break;
        if (upload.is_film) films.value = [...films.value, { ...(await api.completeFilm(upload.id)), into, project }];
        else started.push(await api.completeUpload(upload.id));
      }
    } catch (error) {
      trouble.value =
        error instanceof Problem ? error.message : "The files could not be sent. Choose the folder again.";
    } finally {
      running.value = false;
      left.value = 0;
      // What was sent before one that was not is there all the same.
      made.value = started;
    }
  }

  /** Send what has not arrived, again and again until all has; returns the upload, or nothing if it was cancelled. */
  async function sendAll(projectId: number, folder: ChosenFolder): Promise<Upload | undefined> {
    const announcement = {
      name: folder.name.slice(0, 120),
      files: folder.files.map(({ name, file }) => ({
        name,
        bytes: file.size,
        modified_ms: Math.round(file.lastModified),
      })),
    };
    for (;;) {
      try {
        const upload = await api.openUpload(projectId, announcement);
        const wanted = upload.files.filter((file) => file.skip === null);
        count(folder.files, wanted);
        const queue = wanted.filter((file) => file.offset < folder.files[file.number]!.file.size);
        await Promise.all(Array.from({ length: atATime }, () => sendFrom(queue, upload.id, folder.files)));
        trouble.value = "";
        return cancelled ? undefined : upload;
      } catch (error) {
        if (cancelled) return undefined;
        if (error instanceof Problem && error.status !== 0) throw error;
        stopRequests();
        trouble.value = "The connection broke. Trying again; what has arrived is not sent twice.";
        await new Promise((goOn) => window.setTimeout(goOn, tryAgainMs));
      }
    }
  }

  function count(files: Chosen[], wanted: { number: number; offset: number }[]): void {
    filesTotal.value = wanted.length;
    bytesTotal.value = wanted.reduce((sum, file) => sum + files[file.number]!.file.size, 0);
    bytesDone.value = wanted.reduce((sum, file) => sum + file.offset, 0);
    filesDone.value = wanted.filter((file) => file.offset === files[file.number]!.file.size).length;
    began = performance.now();
    atStart = bytesDone.value;
    speed.value = 0;
  }

  let began = 0;
  let atStart = 0;

  function arrived(bytes: number): void {
    bytesDone.value += bytes;
    const seconds = (performance.now() - began) / 1000;
    if (seconds > 0.7) speed.value = (bytesDone.value - atStart) / seconds;
  }

  async function sendFrom(queue: { number: number; offset: number }[], upload: number, files: Chosen[]): Promise<void> {
    for (let next = queue.shift(); next && !cancelled; next = queue.shift()) {
      await sendFile(`/api/uploads/${upload}/files/${next.number}`, files[next.number]!.file, next.offset);
      filesDone.value += 1;
    }
  }

  function sendFile(address: string, file: File, offset: number): Promise<void> {
    return new Promise((sent, failed) => {
      const request = new XMLHttpRequest();
      requests.add(request);
      let told = 0;
      request.upload.onprogress = (event) => {
        arrived(event.loaded - told);
        told = event.loaded;
      };
      request.onloadend = () => {
        requests.delete(request);
        if (request.status === 204) sent();
        else if (request.status >= 400 && request.status !== 409 && request.status !== 503) failed(problemIn(request));
        else failed(new Broken());
      };
      request.open("PATCH", address);
      request.setRequestHeader("Upload-Offset", String(offset));
      request.setRequestHeader("Content-Type", "application/partial-upload");
      request.send(file.slice(offset));
    });
  }

  function stopRequests(): void {
    requests.forEach((request) => request.abort());
  }

  function cancel(): void {
    cancelled = true;
    stopRequests();
    trouble.value = "Cancelled. Choose the same folder again to go on where it stopped.";
  }

  return {
    ...{
      running,
      name,
      trouble,
      filesTotal,
      filesDone,
      bytesTotal,
      bytesDone,
      speed,
      share,
      secondsToGo,
      left,
      made,
      films,
    },
    ...{ send, cancel },
  };
});

function problemIn(request: XMLHttpRequest): Problem {
  try {
    const problem = JSON.parse(request.responseText) as { code: string; detail: string };
    return new Problem(problem.code, request.status, problem.detail);
  } catch {
    return new Problem(
      "unexpected",
      request.status,
      `A file was refused (${request.status}). Choose the folder again.`,
    );
  }
}
