/** Sentences that begin themselves, in pale ink: a press makes them true. */

import type { Catalogue, Region } from "../api/client";
import { beginAdjustment, beginDrawing, beginStarter } from "../bench/begin";
import { useBench } from "../bench/store";
import { usedBy } from "../document/edit";
import { Button } from "../ui/Button";
import { adjustmentOf } from "../tray/values";

const PALE = "font-(family-name:--book) text-[14px] leading-[22px] text-ink-3";
const WORD = "!border-dotted font-(family-name:--book) !text-[14px] !leading-[20px] text-ink-2";

/** What a colorist most often wants of a region that was drawn first, by the adjustment that does it. */
const OUTSIDE = [
  ["darker", "exposure"],
  ["softer", "blur"],
  ["grey", "mono"],
] as const;
const INSIDE = [
  ["conceal", "solid"],
  ["warmer", "temperature"],
] as const;

function RegionBegins({ region, catalogue }: { readonly region: Region; readonly catalogue: Catalogue }) {
  const words = (side: "inside" | "outside", list: readonly (readonly [string, string])[]) =>
    list.map(([word, id], index) => {
      const adjustment = adjustmentOf(catalogue, id);
      return (
        <span key={id}>
          {index > 0 && " · "}
          <Button className={WORD} onClick={() => adjustment && void beginAdjustment(adjustment, region.id, side)}>
            {word}
          </Button>
        </span>
      );
    });
  return (
    <p className={PALE} data-begins={region.id}>
      <i>Outside {region.name}:</i> {words("outside", OUTSIDE)}; <i>inside:</i> {words("inside", INSIDE)}
      {" · "}
      <Button className={WORD} aria-label={`More to begin on ${region.name}`} onClick={() => useBench.setState({ starting: true })}>
        more…
      </Button>
    </p>
  );
}

/** The region in hand, while no pass works on it. */
function useSpare(): Region | undefined {
  const sheet = useBench((state) => state.sheet);
  const choice = useBench((state) => state.selection);
  const region = choice.kind === "where" ? sheet.regions.find((each) => each.id === choice.region) : undefined;
  return region && usedBy(sheet, region.id) === "no pass" ? region : undefined;
}

/** The region in hand begins its sentence while no pass works on it. */
export function SpareBegins({ catalogue }: { readonly catalogue: Catalogue }) {
  const region = useSpare();
  if (!region) return null;
  return (
    <div className="px-5 pt-1 pb-3">
      <RegionBegins {...{ region, catalogue }} />
    </div>
  );
}

const FIRST = ["vignette", "selective-focus", "conceal", "colour-accent"] as const;

/** Where nothing is done yet: the commonest starters, and drawing first. */
export function FirstBegins({ catalogue }: { readonly catalogue: Catalogue }) {
  // a region that was drawn has sentences of its own to begin
  if (useSpare()) return null;
  return (
    <p className={`${PALE} px-5 pb-3`}>
      Begin with{" "}
      {FIRST.flatMap((id) => catalogue.starters.find((each) => each.id === id) ?? []).map((starter) => (
        <span key={starter.id}>
          <Button className={WORD} onClick={() => void beginStarter(starter.id, null)}>
            {starter.name.toLowerCase()}
          </Button>
          {" · "}
        </span>
      ))}
      or{" "}
      <Button className={WORD} onClick={() => beginDrawing(null, "add")}>
        draw a region
      </Button>
    </p>
  );
}
