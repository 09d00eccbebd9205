/** Export: what to write, and the queue with progress. */

import { Fragment, useState } from "react";
import { type ExportOrder, type ProjectDetail, type Region, type Shot, type Format } from "../api/client";
import { regionInView, useBench } from "../bench/store";
import { Dialog } from "../ui/Dialog";
import { ExportList } from "./ExportList";
import { useFormats, useMetadata } from "../api/queries";
import { Choice } from "../ui/Choice";
import { Field, Select } from "../ui/Field";
import { Say } from "../ui/Words";
import { ClipExport } from "./ClipExport";
import { OrderExport } from "./OrderExport";

type Props = { readonly project: ProjectDetail; readonly shots: readonly Shot[]; readonly onClose: () => void };
type What = ExportOrder["what"];
type Keeps = "nothing" | "plain" | "all";
type Beyond = "led" | "cut";
/** A format at so many bits a channel. */
type Kind = { readonly name: string; readonly format: Format; readonly bits: number };

function kindsOf(formats: readonly Format[]): readonly Kind[] {
  return formats.flatMap((format) =>
    format.bits.map((bits) => ({ name: format.lossy ? format.name : `${format.name}, ${bits} bit`, format, bits })),
  );
}

const WHAT: readonly (readonly [What, string])[] = [
  ["picture", "the picture"],
  ["pair", "before and after, side by side"],
  ["matte", "the matte of a region"],
  ["cutout", "a region cut out, with alpha"],
];

const OF_A_REGION: ReadonlySet<What> = new Set(["matte", "cutout"]);
/** Longer sides that are often asked for, in pixels. */
const SIDES = [3840, 2048, 1080] as const;
const NONE: readonly Region[] = [];
const FULL = "full";
const KEPT: readonly { readonly id: Keeps; readonly name: string }[] = [
  { id: "nothing", name: "leave out" },
  { id: "plain", name: "keep, without place and serial numbers" },
  { id: "all", name: "keep with them" },
];

const BEYOND: readonly { readonly id: Beyond; readonly name: string }[] = [
  { id: "led", name: "led to white, its hue kept" },
  { id: "cut", name: "cut off" },
];

export function ExportDialog({ project, shots, onClose }: Props) {
  const clips = shots.filter((shot) => shot.clip);
  const title = shots.length === 1 ? (shots[0]?.name ?? "") : `${shots.length} shots`;
  return (
    <Dialog title={`Export ${title}`} onClose={onClose}>
      {clips.length === 0 && <Stills project={project} shots={shots} />}
      {clips.length === shots.length && <ClipExport project={project} shots={shots} />}
      {clips.length > 0 && clips.length < shots.length && (
        <Say>Stills and clips are written apart: choose only the ones or the others.</Say>
      )}
      <ExportList project={project.id} />
    </Dialog>
  );
}

function Stills({ project, shots }: Omit<Props, "onClose">) {
  const kinds = kindsOf(useFormats());
  const [named, setNamed] = useState("");
  const [what, setWhat] = useState<What>("picture");
  const regions = useBench((state) => (shots.length === 1 && state.at?.shot === shots[0]?.id ? state.sheet.regions : NONE));
  const [region, setRegion] = useState("");
  const inView = useBench(regionInView);
  const chosen = region || inView || (regions[0]?.id ?? "");
  const [side, setSide] = useState<number | null>(null);
  const [quality, setQuality] = useState(92);
  const [keeps, setKeeps] = useState<Keeps>("nothing");
  const [beyond, setBeyond] = useState<Beyond>("led");
  const able = kinds.filter(({ format }) => format.holds.includes(what));
  const kind = able.find(({ name }) => name === named) ?? able[0];
  const body: ExportOrder = {
    shots: shots.map((shot) => shot.id),
    format: kind?.format.id ?? "png",
    bits: kind?.bits ?? 16,
    quality,
    keep_metadata: keeps !== "nothing",
    keep_private: keeps === "all",
    cuts_off: beyond === "cut",
    even_so: false,
    what,
    region: OF_A_REGION.has(what) ? chosen : "",
    longer_side: OF_A_REGION.has(what) ? null : side,
  };
  return (
    <>
      <div className="my-4.5 grid grid-cols-[110px_1fr] items-baseline gap-x-4 gap-y-3.5">
        <span className="text-label font-medium text-ink-3">What</span>
        <Choice
          label="What"
          look="picks"
          options={WHAT.filter(([id]) => regions.length > 0 || !OF_A_REGION.has(id)).map(([id, name]) => ({ id, name }))}
          value={what}
          onChange={setWhat}
        />
        {OF_A_REGION.has(what) && (
          <>
            <label className="text-label font-medium text-ink-3" htmlFor="of-region">
              Region
            </label>
            <div>
              <Select id="of-region" value={chosen} onChange={(event) => setRegion(event.currentTarget.value)}>
                {regions.map((each) => (
                  <option key={each.id} value={each.id}>
                    {each.name}
                  </option>
                ))}
              </Select>
            </div>
          </>
        )}
        <span className="text-label font-medium text-ink-3">File</span>
        <Choice
          label="File"
          look="picks"
          options={able.map(({ name }) => ({ id: name, name }))}
          value={kind?.name ?? ""}
          onChange={setNamed}
        />
        {kind?.format.lossy && (
          <>
            <label className="text-label font-medium text-ink-3" htmlFor="quality">
              Quality
            </label>
            <div>
              <Field
                id="quality"
                type="number"
                className="w-20"
                min={1}
                max={100}
                value={quality}
                onChange={(event) => setQuality(Math.min(Math.max(event.currentTarget.valueAsNumber || 1, 1), 100))}
              />
              <Say as="span">1 is smallest, 100 is best</Say>
            </div>
          </>
        )}
        <span className="text-label font-medium text-ink-3">Metadata</span>
        <Choice label="Metadata" look="picks" options={KEPT} value={keeps} onChange={setKeeps} />
        {keeps !== "nothing" && <Facts project={project.id} shots={shots} all={keeps === "all"} />}
        {what !== "matte" && kind && kind.format.id !== "exr" && (
          <>
            <span className="text-label font-medium text-ink-3">Beyond white</span>
            <Choice label="Light beyond white" look="picks" options={BEYOND} value={beyond} onChange={setBeyond} />
          </>
        )}
        <span className="text-label font-medium text-ink-3">Size</span>
        {OF_A_REGION.has(what) ? (
          <Say as="span">{sizeOf(shots)}</Say>
        ) : (
          <Choice
            label="Size"
            look="picks"
            options={[
              { id: FULL, name: `full, ${sizeOf(shots)}` },
              ...SIDES.filter((each) => shots.some((shot) => Math.max(shot.width, shot.height) > each)).map((each) => ({
                id: String(each),
                name: `${each} px`,
              })),
            ]}
            value={side === null ? FULL : String(side)}
            onChange={(id) => setSide(id === FULL ? null : Number(id))}
          >
            <input
              type="number"
              className="input input-sm w-24 border-edge bg-field"
              aria-label="Longer side in pixels"
              placeholder="longer side"
              min={16}
              value={side ?? ""}
              onChange={(event) => setSide(event.currentTarget.value === "" ? null : Math.max(Math.round(event.currentTarget.valueAsNumber), 1))}
            />
          </Choice>
        )}
        {what === "pair" && (
          <>
            <span />
            <Say as="span">The source stands at the left. What a cover hides is covered there too.</Say>
          </>
        )}
      </div>
      <OrderExport project={project.id} body={body} />
    </>
  );
}

type FactsProps = { readonly project: string; readonly shots: readonly Shot[]; readonly all: boolean };

/** What would be copied, before it is. */
function Facts({ project, shots, all }: FactsProps) {
  const only = shots.length === 1 ? (shots[0]?.id ?? null) : null;
  const { data } = useMetadata(project, only);
  const kept = data?.filter((fact) => all || !fact.private) ?? [];
  return (
    <>
      <span className="text-label font-medium text-ink-3">Copied</span>
      {only === null || kept.length === 0 ? (
        <Say as="span">
          {only === null ? "Of each shot what its own file says: date, camera, exposure, author." : data ? "Nothing: the file says nothing of itself." : "Reading…"}
        </Say>
      ) : (
        <dl
          aria-label="What is copied"
          className="grid max-h-28 grid-cols-[max-content_1fr] gap-x-3 gap-y-0.5 overflow-y-auto border-y border-line py-1.5 text-[12px] leading-4"
        >
          {kept.map((fact) => (
            <Fragment key={fact.name}>
              <dt className="text-ink-3">{fact.name}</dt>
              <dd className="break-words">{fact.value}</dd>
            </Fragment>
          ))}
        </dl>
      )}
    </>
  );
}

function sizeOf(shots: readonly Shot[]): string {
  const [first] = shots;
  return shots.length === 1 && first ? `${first.width} × ${first.height} px` : "Each at its full size";
}

