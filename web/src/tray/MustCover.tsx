/** Whether what conceals in a pass must hold. Taking that off is an act of its own, which the sentence shows. */

import type { Catalogue, Pass } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { setPass, treatmentOf } from "../document/edit";
import { BeadSwitch } from "../icons/icons";
import { says } from "./values";

type Props = { readonly catalogue: Catalogue; readonly pass: Pass };

function conceals(catalogue: Catalogue, pass: Pass): boolean {
  return (["inside", "outside"] as const).some((side) =>
    catalogue.adjustments.some((each) => each.conceals && says(each, treatmentOf(pass, side)[each.id])),
  );
}

export function MustCover({ catalogue, pass }: Props) {
  if (!conceals(catalogue, pass)) return null;
  const must = pass.must_cover ?? true;
  const set = (on: boolean) =>
    change(setPass(useBench.getState().sheet, pass.id, { must_cover: on }), on ? "must cover" : "need not cover");
  return (
    <div className="flex w-40 flex-none flex-col gap-1 pt-1 pl-3">
      <span className="flex items-center gap-2 text-[13px] leading-5 font-semibold">
        <BeadSwitch on={must} label={`${pass.name} must cover`} onChange={set} />
        must cover
      </span>
      <span className="text-[11px] leading-4 text-ink-2">
        {must
          ? "Whole over the drawn shape, whatever edge, strength and mix. Nothing looks under it."
          : "As soft as it is drawn: what it hides may show through."}
      </span>
    </div>
  );
}
