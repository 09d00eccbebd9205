/** Beside a blur on a region: the region's edge softened by the blur's own amount, in one press. */

import type { Catalogue, Pass, Region } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { regionOf, setRefine, type Side, treatmentOf } from "../document/edit";
import { Button } from "../ui/Button";
import { inGroup, says } from "./values";

type Props = { readonly catalogue: Catalogue; readonly pass: Pass; readonly side: Side };

/** The length by which a side blurs, in picture heights; null when it does not. */
function blurred(catalogue: Catalogue, pass: Pass, side: Side): number | null {
  const treatment = treatmentOf(pass, side);
  for (const each of inGroup(catalogue, "Blur")) {
    const [main] = each.parameters;
    if (main?.unit === "length" && says(each, treatment[each.id])) return Number(treatment[each.id]?.[main.id] ?? main.neutral);
  }
  return null;
}

export function SoftenEdge({ catalogue, pass, side }: Props) {
  const region = useBench((state) => regionOf(state.sheet, pass.region));
  const blur = blurred(catalogue, pass, side);
  if (!region || !blur) return null;
  const soft = Number((region as Region).refine?.blur ?? 0);
  const set = (to: number, label: string) => change(setRefine(useBench.getState().sheet, region.id, { blur: to }), label);
  return (
    <Button
      className="mx-2 w-16 flex-none self-start text-left"
      onClick={() => (soft > 0 ? set(0, "edge as it was") : set(Number(blur.toFixed(4)), "edge softened"))}
    >
      <span
        title={
          soft > 0
            ? "The edge melts into the blur, and blur shows over the subject's rim"
            : "Seldom needed: what is blurred is solved without the other side, so a crisp edge has no halo"
        }
      >
        {soft > 0 ? "leave the edge crisp" : "soften the edge as much"}
      </span>
    </Button>
  );
}
