/** What is done to whole passes. */

import type { Pass } from "../api/client";
import { duplicatePass, treatmentOf } from "../document/edit";
import { change } from "./saving";
import { select, useBench } from "./store";

/** Chooses a pass by what it does first, or by its first group when it does nothing yet. */
export function choosePass(pass: Pass): void {
  const side = Object.keys(treatmentOf(pass, "inside")).length > 0 || !pass.region ? "inside" : "outside";
  select({ kind: "what", pass: pass.id, side, group: "Light", adjustment: "" });
}

export function duplicate(pass: string): void {
  const made = duplicatePass(useBench.getState().sheet, pass);
  change(made.sheet, "duplicate a pass");
  const copy = made.sheet.passes.find((each) => each.id === made.id);
  if (copy) choosePass(copy);
}
