/** One file on its way to the server: small ones in one piece, large ones so that what broke off goes on. */

import { api, asked, Refusal } from "./client";

/** From so many bytes on it comes in pieces, and so many of them at once. */
const LARGE = 16e6;
const PIECE = 8e6;
/** Milliseconds before it tries again, after each break. */
const AGAIN = [0, 500, 1500, 3000, 6000, 12000, 24000];
/** Milliseconds between two looks at how far the reading is. */
const LOOK = 300;

/** What is told on the way: the share that was sent, then the share that was read. */
export type Told = (stage: "sending" | "reading", share: number) => void;

/** Sends a file and waits until it is a shot; `stop` calls it off, and nothing of it stays. */
export async function upload(project: string, file: File, told: Told, stop: AbortSignal): Promise<void> {
  if (stop.aborted) return;
  if (file.size < LARGE) return whole(project, file, told, stop);
  const job = await inPieces(project, file, told, stop);
  if (job) await read(project, job, told, stop);
}

/** Sends one file; XMLHttpRequest tells how far it is, which fetch does not. */
function whole(project: string, file: File, told: Told, stop: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const form = new FormData();
    form.append("file", file);
    request.open("POST", `/api/projects/${project}/shots`);
    request.upload.addEventListener("progress", ({ total, loaded }) => told(loaded < total ? "sending" : "reading", total ? loaded / total : 0));
    request.addEventListener("abort", () => resolve());
    stop.addEventListener("abort", () => request.abort());
    request.addEventListener("error", () => reject(new Refusal({})));
    request.addEventListener("load", () => {
      if (request.status === 200) resolve();
      else reject(refusalOf(request.responseText, request.status));
    });
    request.send(form);
  });
}

function refusalOf(body: string, status: number): Refusal {
  try {
    return new Refusal(JSON.parse(body));
  } catch {
    return new Refusal({ title: `The server answered with ${status}.`, status });
  }
}

/** Sends what the server does not have yet of a file, and returns the job that reads it, none when called off. */
async function inPieces(project: string, file: File, told: Told, stop: AbortSignal): Promise<string> {
  const { DetailedError, Upload } = await import("tus-js-client");
  const sent = await new Promise<string>((resolve, reject) => {
    const way = new Upload(file, {
      endpoint: `/api/projects/${project}/uploads`,
      chunkSize: PIECE,
      retryDelays: AGAIN,
      metadata: { filename: file.name },
      removeFingerprintOnSuccess: true,
      onProgress: (done, total) => told("sending", done / total),
      onSuccess: () => resolve(way.url ?? ""),
      onError: (error) => {
        const answer = error instanceof DetailedError ? error.originalResponse : null;
        reject(answer ? refusalOf(answer.getBody(), answer.getStatus()) : new Refusal({}));
      },
    });
    stop.addEventListener("abort", () => void way.abort(true).then(() => resolve("")));
    // the same file, begun before a reload or a restart
    void way.findPreviousUploads().then((before) => {
      const begun = before.find(({ metadata, size, urlStorageKey }) => urlStorageKey && metadata.filename === file.name && size === file.size);
      if (begun) way.resumeFromPreviousUpload(begun);
      way.start();
    });
  });
  return sent.slice(sent.lastIndexOf("/") + 1);
}

/** Waits until a job has read the file that arrived. */
async function read(project: string, job: string, told: Told, stop: AbortSignal): Promise<void> {
  stop.addEventListener("abort", () => void api.POST("/api/projects/{project}/jobs/{job}/cancel", { params: { path: { project, job } } }));
  for (;;) {
    const all = await asked(api.GET("/api/projects/{project}/jobs", { params: { path: { project } } }));
    const found = all.find(({ id }) => id === job);
    if (!found || found.state === "done" || found.state === "cancelled") return;
    if (found.state === "failed") throw new Refusal({ title: found.problem, status: 422, shot: found.shot });
    told("reading", found.progress);
    await new Promise((go) => setTimeout(go, LOOK));
  }
}
