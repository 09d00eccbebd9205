/** Deleting what is in hand: an adjustment of several, a part of several, a region that nothing works on, or the pass. */

import { dropAdjustment, partOf, passesUsing, regionOf, regionsUsing, removePart, removePass, removeRegion, treatmentOf } from "../document/edit";
import { sayDone } from "./done";
import { change } from "./saving";
import { select, NOTHING, useBench } from "./store";

export function removeInHand(): void {
  const { selection: choice, sheet } = useBench.getState();
  if (choice.kind === "what") {
    const pass = sheet.passes.find((each) => each.id === choice.pass);
    const all = pass ? [...Object.keys(treatmentOf(pass, "inside")), ...Object.keys(treatmentOf(pass, "outside"))] : [];
    const held = pass !== undefined && choice.adjustment in treatmentOf(pass, choice.side);
    if (!held || all.length < 2) return removePassCalled(choice.pass);
    select({ ...choice, adjustment: "" });
    change(dropAdjustment(sheet, choice.pass, choice.side, choice.adjustment), `without ${choice.adjustment}`);
    sayDone(`One adjustment of “${pass.name}” is deleted.`);
  } else if (choice.kind === "where" && choice.region) {
    const region = regionOf(sheet, choice.region);
    const part = choice.part ? partOf(sheet, choice.region, choice.part) : undefined;
    if (!region) return;
    if (part && region.parts.length > 1) {
      select({ ...choice, part: null });
      change(removePart(sheet, region.id, part.id), "remove a part");
      sayDone(`A part of “${region.name}” is deleted.`);
    } else if (passesUsing(sheet, region.id).length + regionsUsing(sheet, region.id).length === 0) {
      select(NOTHING);
      change(removeRegion(sheet, region.id, "whole"), "delete a region");
      sayDone(`“${region.name}” is deleted.`);
    } else if (choice.pass) {
      removePassCalled(choice.pass);
    }
  }
}

export function removePassCalled(id: string): void {
  const { sheet } = useBench.getState();
  const name = sheet.passes.find((each) => each.id === id)?.name;
  if (name === undefined) return;
  select(NOTHING);
  change(removePass(sheet, id), "delete a pass");
  sayDone(`“${name}” is deleted.`);
}
