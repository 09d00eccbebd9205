/** Refining a region's finished matte: faders, and how far to grow beside a blur. */

import { useState } from "react";
import { api, asked, type Catalogue, type Region } from "../api/client";
import { DRAFT, onDraft } from "../api/draft";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { passesUsing, setRefine, setRegion } from "../document/edit";
import type { Frame } from "../document/numbers";
import { Fader } from "./Fader";
import { completeValues } from "./values";
import { Button } from "../ui/Button";
import { Say, WordLine } from "../ui/Words";
import { Faders } from "./Faders";

type Props = { readonly catalogue: Catalogue; readonly region: Region; readonly frame: Frame };

export function RefineFaders({ catalogue, region, frame }: Props) {
  const [hand, setHand] = useState("");
  const values = completeValues({ parameters: catalogue.refine }, region.refine ?? {});
  const set = (id: string, name: string, value: number, end: boolean) => {
    setHand(id);
    change(setRefine(useBench.getState().sheet, region.id, { [id]: value }), name.toLowerCase(), end);
  };
  return (
    <Faders few>
      {catalogue.refine.map((parameter) => (
        <Fader
          key={parameter.id}
          parameter={parameter}
          value={Number(values[parameter.id])}
          frame={frame}
          active={hand === parameter.id}
          withPixels
          onChange={(value) => set(parameter.id, parameter.name, value, false)}
          onChangeEnd={(value) => set(parameter.id, parameter.name, value, true)}
        />
      ))}
    </Faders>
  );
}

type Softness = { readonly sigma_px: number | null; readonly grow: number; readonly says: string };

/** What growing a region is good for; beside a blur, measured on the picture's own edge. */
export function RefineAdvice({ region }: { readonly region: Region }) {
  const at = useBench((state) => state.at);
  const blurred = useBench((state) =>
    passesUsing(state.sheet, region.id).some((pass) => pass.inside?.blur || pass.outside?.blur),
  );
  const [found, setFound] = useState<Softness | null>(null);
  const measure = async () => {
    if (!at) return;
    const query = { region: region.id };
    try {
      const { sheet } = useBench.getState();
      setFound(await onDraft(at, sheet, (path) => asked(api.GET(`${DRAFT}/softness`, { params: { path, query } }))));
    } catch (error) {
      useBench.setState({ problem: error instanceof Error ? error.message : "" });
    }
  };
  const grow = (by: number) => change(setRefine(useBench.getState().sheet, region.id, { grow: by }), "grow");
  return (
    <>
      <Say look="small">
        {found?.says ??
          (blurred
            ? "A blur works beside this region. How far it should grow follows from how soft the picture's edge is."
            : "Done to the finished matte, from left to right.")}
      </Say>
      <WordLine>
        {blurred && (
          <Button title="Measures how soft the picture’s own edge is, and what growing would clear it" onClick={() => void measure()}>
            measure the edge
          </Button>
        )}
        {found && found.grow > 0 && (
          <Button title="Moves the matte’s edge outward by what was measured" onClick={() => grow(found.grow)}>
            grow by {(found.grow * 100).toFixed(2)} %
          </Button>
        )}
        <Button title="The edge unrolled into a strip" onClick={() => useBench.setState({ panel: "ribbon" })}>
          edge ribbon
        </Button>
        {Object.keys(region.refine ?? {}).length > 0 && (
          <Button title="Takes all refining away"
            onClick={() => change(setRegion(useBench.getState().sheet, region.id, { refine: {} }), "refine nothing")}
          >
            back to none
          </Button>
        )}
      </WordLine>
    </>
  );
}
