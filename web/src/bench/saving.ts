/** Saving: each finished change is one step, sent in order; "saved" shows only when the server has answered. */

import { type Address, api, asked, type Bench, Refusal, type Sheet, type Shot } from "../api/client";
import { stepBetween } from "../document/step";
import { type BenchState, FRESH, NOTHING, useBench } from "./store";
import { allKnown, keyed, movedAfter, plain } from "../document/time";
import { follows } from "../document/follow";
import { describeSoon } from "./describe";
import { beginAt, standSoon } from "./time";

type Move = "undo" | "redo";
/** What waits to be sent: a new state of the sheet, or a move along its history. */
type Job = { readonly sheet: Sheet; readonly label: string } | { readonly move: Move };

/** One visit to a shot. Left for another shot, it goes on sending what waits, but shows nothing any more. */
type Visit = { readonly at: Address | null; saved: Bench | null; queue: Job[]; working: boolean };

let visit: Visit = { at: null, saved: null, queue: [], working: false };
const RETRY_MS = 1500;
/** A mistake of the server may pass; one that comes so often is told, and the change taken back. */
const MOST_STUMBLES = 3;

const params = (at: Address) => ({ params: { path: { project: at.project, shot: at.shot } } });
const read = (at: Address) => asked(api.GET("/api/projects/{project}/shots/{shot}/bench", params(at)));

function tell(of: Visit, fields: Partial<BenchState>): void {
  if (of === visit) useBench.setState(fields);
}

/** Opens a shot; a clip at a frame of it. */
export async function open(at: Address, shot: Shot, frame: number | null): Promise<void> {
  const mine: Visit = { at, saved: null, queue: [], working: false };
  visit = mine;
  const { view, ground, lattice, compare, wipe, beside, regionTab, stage } = useBench.getState();
  // a still knows no time, and of a clip what uses a region stands beside it
  const other = shot.clip ? "use" : "time";
  const tab = regionTab === other ? "parts" : regionTab;
  const size = { width: shot.width, height: shot.height };
  const held = compare === "in turn" && !shot.clip ? "none" : compare;
  useBench.setState({ ...FRESH, at, view, ground, lattice, compare: held, wipe, beside, regionTab: tab, stage, size });
  beginAt(shot, frame);
  try {
    settle(mine, await read(at));
  } catch (error) {
    refuse(mine, error);
  }
}

/** After so long a value that is held still shows exactly. */
const STILL_MS = 250;
let standing: ReturnType<typeof setTimeout> | undefined;

/** Notes that a value has moved; if it is still held after a while, it stands still. */
function stand(held: boolean): void {
  clearTimeout(standing);
  if (useBench.getState().still) useBench.setState({ still: false });
  if (held) standing = setTimeout(() => useBench.getState().dragging && useBench.setState({ still: true }), STILL_MS);
}

/** Changes the draft; `end` makes the change a step of its own. */
export function change(sheet: Sheet, label: string, end = true): void {
  stand(!end);
  const next = corrected(sheet);
  const { moved, frame } = useBench.getState();
  useBench.setState({ sheet: next, dragging: !end, ...(end && moved && { moved: movedAfter(next, moved, frame ?? 0) }) });
  describeSoon();
  if (!end) return;
  enqueue({ sheet: plain(next), label });
  // what has just begun to move is corrected from here on
  if (moved && (!allKnown(next, moved) || next.regions.some(follows))) standSoon();
}

/** A draft in which what was corrected of a moving part has become a keyframe. */
function corrected(sheet: Sheet): Sheet {
  const { moved, frame } = useBench.getState();
  return moved && frame !== null ? keyed(sheet, moved, frame) : sheet;
}

/** Ends a gesture with the draft as it was before. */
export function takeBack(sheet: Sheet): void {
  if (!useBench.getState().dragging) return;
  stand(false);
  useBench.setState({ sheet, dragging: false });
  describeSoon();
}

/** Ends a gesture with the draft as it stands. */
export function endChange(label: string): void {
  const { sheet, dragging: moving } = useBench.getState();
  if (moving) change(sheet, label);
}

/** Undoes or redoes, after all that was changed before. */
export function step(move: Move): void {
  const { saved, dragging: moving } = useBench.getState();
  if (moving || (visit.queue.length === 0 && saved?.[move] == null)) return;
  enqueue({ move });
}

function enqueue(job: Job): void {
  visit.queue.push(job);
  useBench.setState({ saving: "saving" });
  void work(visit);
}

async function work(of: Visit): Promise<void> {
  if (of.working) return;
  of.working = true;
  let again = false;
  let stumbles = 0;
  while (of.queue[0] && of.at && of.saved) {
    try {
      await send(of, of.at, of.saved, of.queue[0], again);
      of.queue.shift();
      again = false;
      stumbles = 0;
      tell(of, { saving: of.queue.length > 0 ? "saving" : "saved" });
    } catch (error) {
      again = true;
      if (error instanceof Refusal && error.status === 500) stumbles += 1;
      if (!(await survives(of, error, stumbles))) break;
    }
  }
  of.working = false;
}

async function send(of: Visit, at: Address, saved: Bench, job: Job, again: boolean): Promise<void> {
  if ("move" in job) {
    settle(of, await walked(at, saved, job.move));
    return;
  }
  of.saved = await stepped(at, saved, job, again);
  tell(of, { saved: of.saved, problem: "" });
}

async function stepped(at: Address, saved: Bench, job: { sheet: Sheet; label: string }, again: boolean): Promise<Bench> {
  const made = stepBetween(plain(saved.sheet), job.sheet);
  if (made === null) return saved;
  const body = { seen: saved.revision, label: job.label, step: made };
  try {
    const answer = await asked(api.POST("/api/projects/{project}/shots/{shot}/steps", { ...params(at), body }));
    return { ...saved, ...answer, sheet: job.sheet };
  } catch (error) {
    // the server may have saved the step and died before it could say so
    if (!again || !(error instanceof Refusal) || error.code !== "revision.stale") throw error;
    const newest = await read(at);
    if (stepBetween(plain(newest.sheet), job.sheet) !== null) throw error;
    return newest;
  }
}

async function walked(at: Address, saved: Bench, move: Move): Promise<Bench> {
  if (saved[move] == null) return saved;
  const options = { ...params(at), body: { seen: saved.revision } };
  return asked(
    move === "undo"
      ? api.POST("/api/projects/{project}/shots/{shot}/undo", options)
      : api.POST("/api/projects/{project}/shots/{shot}/redo", options),
  );
}

/** Waits and goes on when the server is silent or stumbled; stops, with a sentence, when it refuses. */
async function survives(of: Visit, error: unknown, stumbles: number): Promise<boolean> {
  const silent = error instanceof Refusal && (error.status === 0 || error.status >= 502);
  const stumbled = error instanceof Refusal && error.status === 500 && stumbles < MOST_STUMBLES;
  if (silent || stumbled) {
    tell(of, { saving: "offline", problem: error.message });
    await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    return true;
  }
  of.queue = [];
  refuse(of, error);
  const stale = error instanceof Refusal && error.code === "revision.stale";
  // a refused change is taken back: what shows is what is saved
  if (!stale && of.saved) {
    tell(of, { sheet: of.saved.sheet, moved: null });
    describeSoon();
    if (of === visit) standSoon();
  }
  return false;
}

function refuse(of: Visit, error: unknown): void {
  const stale = error instanceof Refusal && error.code === "revision.stale";
  const problem = error instanceof Error ? error.message : "Something went wrong.";
  tell(of, { saving: stale ? "stale" : "refused", problem });
}

/** Shows a revision that the server has just given. */
function settle(of: Visit, bench: Bench): void {
  of.saved = bench;
  const { selection: choice } = useBench.getState();
  const pass = choice.kind === "nothing" ? null : choice.pass;
  const gonePass = pass !== null && !bench.sheet.passes.some((each) => each.id === pass);
  const goneRegion =
    choice.kind === "where" && choice.region !== null && !bench.sheet.regions.some((each) => each.id === choice.region);
  tell(of, {
    saved: bench,
    sheet: bench.sheet,
    told: bench.told,
    parts: bench.parts,
    covers: bench.covers,
    saving: of.queue.length > 0 ? "saving" : "saved",
    problem: "",
    dragging: false,
    selection: gonePass || goneRegion ? NOTHING : choice,
    moved: null,
  });
  if (of === visit) standSoon();
}

/** Shows a revision that the server gave in answer to something else than a step. */
export function adopt(bench: Bench): void {
  settle(visit, bench);
}

/** Waits until all that was changed is on disk. */
export async function settled(): Promise<void> {
  while (visit.queue.length > 0 && visit.working) await new Promise((resolve) => setTimeout(resolve, 30));
}

/** After a clash: takes the newest sheet, or lays this draft over it as a step that can be undone. */
export async function reconcile(mine: boolean): Promise<void> {
  const of = visit;
  const { sheet } = useBench.getState();
  if (!of.at) return;
  try {
    settle(of, await read(of.at));
    if (mine && of === visit) change(sheet, "keep my version");
  } catch (error) {
    refuse(of, error);
  }
}

export async function takeSnapshot(name: string): Promise<void> {
  const { at } = useBench.getState();
  if (at) await asked(api.POST("/api/projects/{project}/shots/{shot}/snapshots", { ...params(at), body: { name } }));
}

export async function returnTo(snapshot: number): Promise<void> {
  const of = visit;
  if (!of.at || !of.saved) return;
  const path = { project: of.at.project, shot: of.at.shot, snapshot };
  try {
    settle(
      of,
      await asked(
        api.POST("/api/projects/{project}/shots/{shot}/snapshots/{snapshot}/return", {
          params: { path },
          body: { seen: of.saved.revision },
        }),
      ),
    );
  } catch (error) {
    refuse(of, error);
  }
}
