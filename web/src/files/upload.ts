import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";

import { api, Problem, type ShotStarted } from "../api/client";
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
  /** The shot that was made of what was sent last, until somebody goes on with it. */
  const made = shallowRef<ShotStarted>();
  const share = computed(() => (bytesTotal.value ? bytesDone.value / bytesTotal.value : 0));
  const secondsToGo = computed(() => (speed.value ? (bytesTotal.value - bytesDone.value) / speed.value : 0));

  const requests = new Set<XMLHttpRequest>();
  let cancelled = false;

  /**
   * Send a folder into a project, which may be asked for by the folder's name once it is known; tells whether another
   * one may be sent after it.
   */
  async function send(into: Into, folder: ChosenFolder): Promise<boolean> {
    trouble.value = "";
    if (!folder.files.length) {
      trouble.value = `“${folder.name}” has no files in it. Choose the folder the stills lie in.`;
      return true;
    }
    running.value = true;
    cancelled = false;
    name.value = folder.name;
    try {
      const upload = await sendAll(typeof into === "number" ? into : await into(folder.name.slice(0, 120)), folder);
      if (upload !== undefined) made.value = await api.completeUpload(upload);
      return upload !== undefined;
    } catch (error) {
      trouble.value =
        error instanceof Problem ? error.message : "The files could not be sent. Choose the folder again.";
      return false;
    } finally {
      running.value = false;
    }
  }

  /** Send what has not arrived, again and again until all has; returns the upload, or nothing if it was cancelled. */
  async function sendAll(projectId: number, folder: ChosenFolder): Promise<number | undefined> {
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
        return cancelled ? undefined : upload.id;
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
    ...{ running, name, trouble, filesTotal, filesDone, bytesTotal, bytesDone, speed, share, secondsToGo, made },
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
