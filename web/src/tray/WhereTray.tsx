/** The tray of a region: its parts, its refining, its pieces. */

import type { Catalogue, Part, Pass, Region, Shot } from "../api/client";
import { beginDrawing } from "../bench/begin";
import { change } from "../bench/saving";
import { choose, type Facet, useBench } from "../bench/store";
import { passesUsing, regionsUsing, setPass } from "../document/edit";
import { Parts } from "./Parts";
import { PartFaders } from "./PartFaders";
import { Edge, Follows, PartVerbs } from "./PartWords";
import { Pieces } from "./Pieces";
import { RefineAdvice, RefineFaders } from "./Refine";

type Props = {
  readonly catalogue: Catalogue;
  readonly pass: Pass | undefined;
  readonly region: Region | undefined;
  readonly part: Part | undefined;
  readonly shot: Shot;
};

const JOINS = ["add", "subtract", "intersect"] as const;

export function WhereTray({ catalogue, pass, region, part, shot }: Props) {
  const facet = useBench((state) => state.facet);
  if (!region) {
    return (
      <div className="tray-left wide">
        {pass && <WorksOn pass={pass} />}
        <p className="say">The whole picture: everything is inside, nothing outside.</p>
      </div>
    );
  }
  return (
    <>
      <div className="tray-left wide">
        <Facets region={region} />
        {facet === "parts" && (
          <>
            <Parts {...{ catalogue, pass, region, part }} />
            <div className="joins">
              Join a part:
              {JOINS.map((join) => (
                <button key={join} type="button" className="word" onClick={() => beginDrawing(region.id, join)}>
                  {join}
                </button>
              ))}
            </div>
            {part && <Edge {...{ catalogue, region, part }} />}
            {part && <Follows {...{ region, part }} />}
            {part && <PartVerbs {...{ region, part }} />}
          </>
        )}
        {facet === "refine" && <RefineAdvice region={region} />}
        {facet === "use" && <Use {...{ pass, region }} />}
        {facet === "pieces" && (
          <p className="say">Islands and holes of the matte. What is dropped stays dropped while the region changes.</p>
        )}
      </div>
      {facet === "parts" && part && <PartFaders key={part.id} {...{ catalogue, region, part }} frame={shot} />}
      {facet === "refine" && <RefineFaders {...{ catalogue, region }} frame={shot} />}
      {facet === "pieces" && <Pieces {...{ region, shot }} />}
    </>
  );
}

const FACETS: readonly (readonly [Facet, string])[] = [
  ["parts", "Parts"],
  ["refine", "Refine"],
  ["pieces", "Pieces"],
  ["use", "Use"],
];

function Facets({ region }: { readonly region: Region }) {
  const facet = useBench((state) => state.facet);
  const held = {
    parts: false,
    refine: Object.keys(region.refine ?? {}).length > 0,
    pieces: (region.dropped ?? []).length > 0,
    use: false,
  };
  return (
    <div className="groups facets" role="tablist" aria-label="What of the region">
      {FACETS.map(([id, name]) => (
        <button
          key={id}
          type="button"
          role="tab"
          className={held[id] ? "holds" : ""}
          aria-selected={id === facet}
          onClick={() => useBench.setState({ facet: id })}
        >
          <span>{name}</span>
        </button>
      ))}
    </div>
  );
}

/** Who uses the region, and what the pass in hand works on. */
function Use({ pass, region }: { readonly pass: Pass | undefined; readonly region: Region }) {
  const sheet = useBench((state) => state.sheet);
  const passes = passesUsing(sheet, region.id).map((each) => each.name);
  const regions = regionsUsing(sheet, region.id).map((each) => each.name);
  return (
    <>
      {pass && <WorksOn pass={pass} />}
      <p className="say small">
        {passes.length > 0 ? `Passes on it: ${passes.join(", ")}. ` : "No pass works on it. "}
        {regions.length > 0 && `A part of: ${regions.join(", ")}.`}
      </p>
    </>
  );
}

function WorksOn({ pass }: { readonly pass: Pass }) {
  const regions = useBench((state) => state.sheet.regions);
  const pick = (id: string) => {
    const region = id || null;
    const sheet = useBench.getState().sheet;
    change(setPass(sheet, pass.id, { region }), `where of ${pass.name}`);
    choose({ kind: "where", pass: pass.id, region, part: null });
  };
  return (
    <label className="joins" style={{ marginBottom: 2 }}>
      {pass.name} works on
      <select className="select select-xs select-field" value={pass.region ?? ""} onChange={(event) => pick(event.currentTarget.value)}>
        <option value="">whole picture</option>
        {regions.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </select>
    </label>
  );
}
