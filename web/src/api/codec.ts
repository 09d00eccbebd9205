/** A frame through a codec: what is asked for, and what comes back. */

import { type Address, got, type Sheet } from "./client";
import { named, onSheet } from "./draft";
import type { paths } from "./schema";

export type CodecOrder = paths["/api/projects/{project}/shots/{shot}/drafts/{draft}/codec"]["get"]["parameters"]["query"];
type Figures = {
  readonly frames: number;
  readonly grain: number | null;
  readonly steps: readonly [number, number] | null;
  readonly bits: number;
};
/** The two pieces side by side as an address that an image can show, and what is measured. */
export type CodecLook = Figures & { readonly url: string };

export async function fetchCodec(at: Address, sheet: Sheet, order: CodecOrder): Promise<CodecLook> {
  const response = await onSheet(sheet, (draft) =>
    got(`/api/projects/${at.project}/shots/${at.shot}/drafts/${named(draft, at.shot)}/codec`, order),
  );
  const figures = JSON.parse(response.headers.get("X-Codec") ?? "{}") as Figures;
  return { ...figures, url: URL.createObjectURL(await response.blob()) };
}
