/** Faces and lettering along a clip: begun on, each at the frame where it shows best, and followed from there. */

import { answers } from "../api/answers";
import { api, asked } from "../api/client";
import { DRAFT, onSheet } from "../api/draft";
import { onShot, onThisDraft } from "./request";
import { change } from "./saving";
import { select, useBench } from "./store";

/** Begins regions on finds, with a cover over each or without; they go along with what they lie on. */
export async function beginOnFinds(job: string, things: readonly number[], conceal: boolean): Promise<void> {
  const before = useBench.getState().sheet;
  const body = { job, things: [...things], conceal };
  const made = await onThisDraft((path) => asked(api.POST(`${DRAFT}/on-finds`, { params: { path }, body })));
  if (!made) return;
  if (useBench.getState().sheet !== before) {
    useBench.setState({ problem: "The sheet was changed meanwhile. Begin on the finds again." });
    return;
  }
  change(made.sheet, `${conceal ? "conceal" : "regions on"} ${things.length} found`);
  const { sheet } = useBench.getState();
  const [first] = made.follows;
  const pass = sheet.passes.find((each) => each.region === first?.region)?.id ?? null;
  if (first) select({ kind: "where", pass, region: first.region, part: null });
  const motion = { motion: "any" as const, first: 0, last: null };
  await onShot(async (at) => {
    for (const { region, frame } of made.follows) {
      await onSheet(sheet, (draft) =>
        asked(api.POST(`${DRAFT}/track/{region}`, { params: { path: { ...at, draft: `${draft}@${frame}`, region } }, body: motion })),
      );
    }
  });
  const { at } = useBench.getState();
  if (at) await answers.invalidateQueries({ queryKey: ["jobs", at.project] });
}
