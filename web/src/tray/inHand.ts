/** The number in hand: the amount of the chosen adjustment, or how much of its pass. */

import type { Catalogue, Parameter, Sheet } from "../api/client";
import type { Selection } from "../bench/store";
import { setAdjustment, setPass, treatmentOf } from "../document/edit";
import { MIX, STRENGTH } from "./parameters";
import { adjustmentOf } from "./values";

export type InHand = {
  readonly parameter: Parameter;
  readonly value: number;
  readonly neutral: number;
  readonly put: (value: number) => Sheet;
  /** what a change of it is called in the history */
  readonly label: string;
};

export function valueInHand(sheet: Sheet, choice: Selection, catalogue: Catalogue): InHand | null {
  const pass = choice.kind === "what" ? sheet.passes.find((each) => each.id === choice.pass) : undefined;
  if (!pass || choice.kind !== "what") return null;
  const { side, adjustment: id } = choice;
  const declared = adjustmentOf(catalogue, id);
  const parameter = declared?.switch === "first" ? declared.parameters[0] : undefined;
  const kept = treatmentOf(pass, side)[id];
  if (declared && parameter && kept) {
    const value = Number(kept[parameter.id] ?? parameter.neutral);
    const put = (next: number) => setAdjustment(sheet, pass.id, side, id, { [parameter.id]: next });
    return { parameter, value, neutral: Number(parameter.neutral), put, label: declared.name.toLowerCase() };
  }
  const field = id === "mix" ? "mix" : "strength";
  const put = (next: number) => setPass(sheet, pass.id, { [field]: next });
  return { parameter: id === "mix" ? MIX : STRENGTH, value: pass[field], neutral: 0, put, label: `${field} of ${pass.name}` };
}
