/** Taking what lies at a place of the picture. */

import { api, asked, type Catalogue } from "../api/client";
import { DRAFT } from "../api/draft";
import type { Point } from "../document/zoom";
import { onThisDraft } from "./request";
import { select, useBench } from "./store";

/** Takes the region and the side that lie at a place, in full-size pixels; where nothing lies, lets go of all. */
export async function takeAt({ x, y }: Point, catalogue: Catalogue): Promise<void> {
  const sheet = useBench.getState().sheet;
  if (sheet.regions.length === 0 && sheet.passes.length === 0) return;
  const found = await onThisDraft((path) => asked(api.GET(`${DRAFT}/lying`, { params: { path, query: { x, y } } })));
  if (!found) return;
  if (found.pass_id && found.side && found.adjustment) {
    const group = catalogue.adjustments.find((each) => each.id === found.adjustment)?.group ?? "Light";
    select({ kind: "what", pass: found.pass_id, side: found.side, group, adjustment: found.adjustment });
  } else if (found.region) {
    select({ kind: "where", pass: null, region: found.region, part: null });
  }
}
