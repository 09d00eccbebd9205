/** Drafts: a sheet is sent once; whatever is asked about it afterwards names it by the digest that came back. */

import { plain } from "../document/time";
import { type Address, api, asked, Refusal, type Sheet } from "./client";

/** Where the API has a draft of a shot. */
export const DRAFT = "/api/projects/{project}/shots/{shot}/drafts/{draft}";

export type DraftAddress = Address & { readonly draft: string };

const sent = new WeakMap<Sheet, Promise<string>>();

/** The digest of a sheet, which is sent if it was not yet. */
function digestOf(sheet: Sheet): Promise<string> {
  const known = sent.get(sheet);
  if (known) return known;
  const digest = asked(api.POST("/api/drafts", { body: plain(sheet) })).then((made) => made.draft);
  sent.set(sheet, digest);
  // what did not arrive is sent again the next time
  digest.catch(() => sent.delete(sheet));
  return digest;
}

/** Asks something about a sheet; one that the server has let go of is sent again. */
export async function onSheet<Data>(sheet: Sheet, ask: (draft: string) => Promise<Data>): Promise<Data> {
  try {
    return await ask(await digestOf(sheet));
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== "draft.gone") throw error;
    sent.delete(sheet);
    return ask(await digestOf(sheet));
  }
}

const moments = new Map<string, number>();

/** Whatever is asked about a clip from now on is asked of it at this frame; null: a still. */
export function standAt(shot: string, frame: number | null): void {
  if (frame === null) moments.delete(shot);
  else moments.set(shot, frame);
}

/** A draft of a shot, at the frame where the shot stands. */
export function named(draft: string, shot: string): string {
  const frame = moments.get(shot);
  return frame === undefined ? draft : `${draft}@${frame}`;
}

/** Asks something about a sheet of a shot. */
export function onDraft<Data>(at: Address, sheet: Sheet, ask: (path: DraftAddress) => Promise<Data>): Promise<Data> {
  return onSheet(sheet, (draft) => ask({ project: at.project, shot: at.shot, draft: named(draft, at.shot) }));
}

const numbers = new WeakMap<Sheet, number>();
let newest = 0;

/** What an order asks for, as a key; a sheet is never written to, so it is known by which one it is. */
export function keyOf({ sheet, ...rest }: { readonly sheet: Sheet }): string {
  const number = numbers.get(sheet) ?? ++newest;
  numbers.set(sheet, number);
  return `${number} ${[...moments.values()].join()} ${JSON.stringify(rest)}`;
}

/** A sheet that shows how its parts stand at a frame is the draft that it was before: nothing is asked for again. */
export function sameDraft(shown: Sheet, before: Sheet): Sheet {
  const [number, digest] = [numbers.get(before), sent.get(before)];
  if (number !== undefined) numbers.set(shown, number);
  if (digest) sent.set(shown, digest);
  return shown;
}

/** A sheet on which nothing is done. */
export const NOTHING: Sheet = { version: 2, regions: [], passes: [] };
