/** The tray of a region: its parts, its refining, its pieces. */

import { lazy, Suspense } from "react";
import { TabPanel, Tabs } from "react-aria-components";
import type { Catalogue, Part, Pass, Region, Shot } from "../api/client";
import { beginDrawing } from "../bench/begin";
import { change } from "../bench/saving";
import { select, type RegionTab, useBench } from "../bench/store";
import { passesUsing, regionsUsing, setPass } from "../document/edit";
import { keyframesOf } from "../document/time";
import { Alike } from "./Alike";
import { EdgeFaders, EdgeWords } from "./EdgeFacet";
import { Parts } from "./Parts";
import { PartFaders } from "./PartFaders";
import { Does, Edge, Follows, PartVerbs } from "./PartWords";
import { Pieces } from "./Pieces";
import { RefineAdvice, RefineFaders } from "./Refine";
import { SlopeControl } from "./SlopeControl";
import { TabWords } from "../ui/Tabs";
import { kindOf } from "./values";
import { Button } from "../ui/Button";
import { Say, WordLine } from "../ui/Words";
import { Select } from "../ui/Field";
import { TrayLeft } from "./TrayLeft";

/** What has to do with time is loaded when it is opened: a still knows none. */
const Moves = lazy(() => import("./Moves").then((made) => ({ default: made.Moves })));
const Covering = lazy(() => import("./Covering").then((made) => ({ default: made.Covering })));
const PassSpan = lazy(() => import("./Moves").then((made) => ({ default: made.PassSpan })));

type Props = {
  readonly catalogue: Catalogue;
  readonly pass: Pass | undefined;
  readonly region: Region | undefined;
  readonly part: Part | undefined;
  readonly shot: Shot;
};

const JOINS = ["add", "subtract", "intersect"] as const;
const JOIN_SAYS: Readonly<Record<(typeof JOINS)[number], string>> = {
  add: "The next part counts besides what is there",
  subtract: "The next part is taken out of what is there",
  intersect: "Only what lies in the next part too stays",
};

export function WhereTray({ catalogue, pass, region, part, shot }: Props) {
  const facet = useBench((state) => state.regionTab);
  if (!region) {
    return (
      <TrayLeft wide>
        {pass && <WorksOn pass={pass} />}
        <Say>The whole picture: everything is inside, nothing outside.</Say>
      </TrayLeft>
    );
  }
  return (
    <Tabs
      className="contents"
      selectedKey={facet}
      onSelectionChange={(key) => useBench.setState({ regionTab: key as RegionTab, does: "add" })}
    >
      <TrayLeft wide>
        <Facets region={region} clip={Boolean(shot.clip)} />
        <TabPanel key={facet} id={facet} className="contents">
        {facet === "parts" && (
          <>
            <Parts {...{ catalogue, pass, region, part }} />
            {part && <PartVerbs {...{ catalogue, region, part }} />}
            <WordLine>
              Join a part:
              {JOINS.map((join) => (
                <Button key={join} title={JOIN_SAYS[join]} onClick={() => beginDrawing(region.id, join)}>
                  {join}
                </Button>
              ))}
            </WordLine>
            {part && <Does {...{ catalogue, region, part }} />}
            {part && <Edge {...{ catalogue, region, part }} />}
            {part && <Follows {...{ region, part }} />}
          </>
        )}
        {facet === "edge" && <EdgeWords region={region} />}
        {facet === "refine" && <RefineAdvice region={region} />}
        {facet === "alike" && (
          <Say>Places elsewhere with the colour and the light of this region: other burnt spots, reflections.</Say>
        )}
        {facet === "time" && shot.clip && (
          <Suspense>
            <Moves {...{ catalogue, region }} clip={shot.clip} />
          </Suspense>
        )}
        {facet === "use" && <Use {...{ pass, region }} />}
        {facet === "pieces" && (
          <Say>Islands and holes of the matte. What is dropped stays dropped while the region changes.</Say>
        )}
        </TabPanel>
      </TrayLeft>
      {facet === "parts" && part && <PartControl key={part.id} {...{ catalogue, region, part }} frame={shot} />}
      {facet === "edge" && <EdgeFaders shot={shot} />}
      {facet === "alike" && <Alike {...{ region, shot }} />}
      {facet === "refine" && <RefineFaders {...{ catalogue, region }} frame={shot} />}
      {facet === "pieces" && <Pieces {...{ region, shot }} />}
      {facet === "time" && shot.clip && (
        <div className="flex flex-1 pl-5">
          <div className="max-w-96 min-w-72">
            <Use {...{ pass, region }} />
            <Suspense>{pass && <PassSpan pass={pass} clip={shot.clip} />}</Suspense>
          </div>
          <Suspense>
            <Covering {...{ region }} clip={shot.clip} />
          </Suspense>
        </div>
      )}
    </Tabs>
  );
}

const FACETS: readonly (readonly [RegionTab, string, string])[] = [
  ["parts", "Parts", "What the region is joined of"],
  ["edge", "Fringe", "Hair and other fringes, resolved from the picture under a brush"],
  ["refine", "Refine", "What is done to the finished matte: closed, grown, smoothed"],
  ["pieces", "Islands", "Islands and holes of the matte, each kept or dropped"],
  ["alike", "Similar", "Places elsewhere in the picture with the same colour and light"],
  ["use", "Passes", "The passes that work on this region"],
  ["time", "Time", "Whether it moves, and when its pass acts"],
];

type ControlProps = {
  readonly catalogue: Catalogue;
  readonly region: Region;
  readonly part: Part;
  readonly frame: Shot;
};

/** The faders of a part; of a range its slopes. */
function PartControl(props: ControlProps) {
  const slopes = kindOf(props.catalogue, props.part.kind)?.slopes ?? [];
  return slopes.length > 0 ? <SlopeControl {...props} /> : <PartFaders {...props} />;
}

function Facets({ region, clip }: { readonly region: Region; readonly clip: boolean }) {
  const held = {
    parts: false,
    refine: Object.keys(region.refine ?? {}).length > 0,
    edge: (region.band ?? []).length > 0,
    pieces: (region.removed ?? []).length > 0,
    alike: false,
    use: false,
    time: keyframesOf(region).length > 0,
  };
  return (
    <TabWords
      label="What of the region"
      tabs={FACETS.filter(([id]) => id !== (clip ? "use" : "time")).map(([id, name, tip]) => ({ id, name, tip, holds: held[id] }))}
      className="-mt-0.5 mb-1 -ml-1 flex justify-between"
      close
    />
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
      <Say look="small">
        {passes.length > 0 ? `Passes on it: ${passes.join(", ")}. ` : "No pass works on it. "}
        {regions.length > 0 && `A part of: ${regions.join(", ")}.`}
      </Say>
    </>
  );
}

function WorksOn({ pass }: { readonly pass: Pass }) {
  const regions = useBench((state) => state.sheet.regions);
  const pick = (id: string) => {
    const region = id || null;
    const sheet = useBench.getState().sheet;
    change(setPass(sheet, pass.id, { region }), `where of ${pass.name}`);
    select({ kind: "where", pass: pass.id, region, part: null });
  };
  return (
    <WordLine as="label" className="mb-0.5">
      {pass.name} works on
      <Select size="small" value={pass.region ?? ""} onChange={(event) => pick(event.currentTarget.value)}>
        <option value="">whole picture</option>
        {regions.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </Select>
    </WordLine>
  );
}
