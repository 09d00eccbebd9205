/** Resolving a region's edge anew: where it is marked, and how. */

import type { Region, Shot } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { setRegion } from "../document/edit";
import { Fader } from "./Fader";
import { OPACITY } from "./parameters";
import { DoesWords } from "./ReadWords";
import { Button } from "../ui/Button";
import { Say, WordLine } from "../ui/Words";
import { Faders } from "./Faders";

const SIZE = { ...OPACITY, id: "band", name: "Size", unit: "length", neutral: 0.04, low: 0.004, high: 0.3, floor: 0.001, ceiling: 2, step: 0.001, curve: "square" };

export function EdgeWords({ region }: { readonly region: Region }) {
  const count = region.band?.length ?? 0;
  const clear = () => change(setRegion(useBench.getState().sheet, region.id, { band: [] }), "leave the edge as it was");
  return (
    <>
      <Say look="small">
        {count === 0
          ? "Paint over a fringe, hair or grass: within the band the edge is solved anew from the picture."
          : "Within the band the edge is solved anew from the picture."}
      </Say>
      <DoesWords />
      {count > 0 && (
        <WordLine>
          {count === 1 ? "1 stroke" : `${count} strokes`}
          <Button title="Takes away where the edge was resolved" onClick={clear}>
            leave the edge as it was
          </Button>
        </WordLine>
      )}
    </>
  );
}

function setBand(band: number): void {
  useBench.setState({ band });
}

export function EdgeFaders({ shot }: { readonly shot: Shot }) {
  const band = useBench((state) => state.band);
  return (
    <Faders few>
      <Fader parameter={SIZE} value={band} frame={shot} active withPixels onChange={setBand} onChangeEnd={setBand} />
    </Faders>
  );
}
