/** The values of one adjustment on one side of a pass, and how they are changed. */

import type { Adjustment, Pass } from "../api/client";
import { change } from "../bench/saving";
import { select, useBench } from "../bench/store";
import { dropAdjustment, setAdjustment, type Side, treatmentOf, type Value } from "../document/edit";
import { completeValues, says } from "./values";

export type Of = { readonly pass: Pass; readonly side: Side; readonly group: string; readonly adjustment: Adjustment };

type Held = {
  readonly values: Readonly<Record<string, Value>>;
  /** Sets values; at the end of a gesture what says nothing is taken out of the sheet. */
  readonly set: (values: Readonly<Record<string, Value>>, end: boolean) => void;
};

export function useAdjustment({ pass, side, group, adjustment }: Of): Held {
  const kept = treatmentOf(pass, side)[adjustment.id] ?? {};
  const set = (values: Readonly<Record<string, Value>>, end: boolean) => {
    const { sheet, selection: choice } = useBench.getState();
    // a wide one stays open, and keeps what was set besides, until its amount is taken to nothing
    const quiet = end && !says(adjustment, { ...kept, ...values });
    const next = quiet
      ? dropAdjustment(sheet, pass.id, side, adjustment.id)
      : setAdjustment(sheet, pass.id, side, adjustment.id, values);
    if (choice.kind !== "what" || choice.adjustment !== adjustment.id) {
      select({ kind: "what", pass: pass.id, side, group, adjustment: adjustment.id });
    }
    change(next, adjustment.name.toLowerCase(), end);
  };
  return { values: completeValues(adjustment, kept), set };
}
