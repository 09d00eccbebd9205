/** Export of clips: what, in which format and quality, which frames, with or without sound. */

import { type ReactNode, useState } from "react";
import { type ExportOrder, type ProjectDetail, type Region, type Shot } from "../api/client";
import { useClipFormats, useFormats } from "../api/queries";
import { regionInView, useBench } from "../bench/store";
import { clipSaid } from "../document/time";
import { Choice } from "../ui/Choice";
import { Select } from "../ui/Field";
import { Say } from "../ui/Words";
import { OrderExport } from "./OrderExport";
import { ThroughCodec } from "./ThroughCodec";

type Props = { readonly project: ProjectDetail; readonly shots: readonly Shot[] };
type ClipOrder = NonNullable<ExportOrder["clip"]>;
type What = "picture" | "matte" | "cutout";
type Kind = { readonly id: NonNullable<ClipOrder["format"]>; readonly name: string };

/** What can hold it: a cut-out needs alpha; numbered pictures hold what a still of their format does. */
function useKinds(what: What): readonly Kind[] {
  const [clips, stills] = [useClipFormats(), useFormats()];
  const fits = ({ holds }: { readonly holds: readonly What[] | readonly string[] }) => (holds as readonly string[]).includes(what);
  return [...clips.filter(fits), ...stills.filter(fits).map(({ id, name, bits }) => ({ id, name: `${name}, numbered, ${bits[0]} bit` }))];
}

const NONE: readonly Region[] = [];

export function ClipExport({ project, shots }: Props) {
  const formats = useClipFormats();
  const [what, setWhat] = useState<What>("picture");
  const kinds = useKinds(what);
  const [asked, setNamed] = useState<Kind["id"]>("h264");
  const named = kinds.some(({ id }) => id === asked) ? asked : (kinds[0]?.id ?? asked);
  const format = formats.find((each) => each.id === named);
  const [quality, setQuality] = useState<number | null>(null);
  const [sound, setSound] = useState(true);
  const [joined, setJoined] = useState(false);
  const joinable = format !== undefined && what === "picture" && shots.length > 1;
  const [ranged, setRanged] = useState(true);
  const only = shots.length === 1 ? shots[0] : undefined;
  const here = useBench((state) => only !== undefined && state.at?.shot === only.id);
  const regions = useBench((state) => (here ? state.sheet.regions : NONE));
  const inView = useBench(regionInView);
  const [region, setRegion] = useState("");
  const marked = useBench((state) => (here ? state.range : null));
  const range = ranged ? marked : null;
  const chosen = region || inView || (regions[0]?.id ?? "");
  const body: ExportOrder = {
    shots: shots.map((shot) => shot.id),
    // of clips what stands in `clip` counts
    format: "png",
    bits: 16,
    quality: 92,
    keep_metadata: false,
    keep_private: false,
    cuts_off: false,
    even_so: false,
    what,
    region: what === "picture" ? "" : chosen,
    longer_side: null,
    clip: { format: named, quality, sound, first: range?.first ?? null, last: range?.last ?? null, joined: joined && joinable },
  };
  const silent = shots.every((shot) => !shot.clip?.sound);
  return (
    <>
      <div className="my-4.5 grid grid-cols-[110px_1fr] items-baseline gap-x-4 gap-y-3.5">
        {regions.length > 0 && (
          <Row name="What">
            <Choice
              label="What"
              look="picks"
              options={[
                { id: "picture", name: "the picture" },
                { id: "matte", name: "the matte of a region, grey" },
                { id: "cutout", name: "a region cut out, with alpha" },
              ]}
              value={what}
              onChange={setWhat}
            />
          </Row>
        )}
        {what !== "picture" && (
          <Row name="Region">
            <Select aria-label="Region" value={chosen} onChange={(event) => setRegion(event.currentTarget.value)}>
              {regions.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </Select>
          </Row>
        )}
        <Row name="File">
          <Choice
            label="File"
            look="picks"
            options={[...kinds]}
            value={named}
            onChange={(id) => {
              setNamed(id);
              setQuality(null);
            }}
          />
        </Row>
        {format && format.qualities.length > 0 && (
          <Row name="Quality">
            <Choice
              label="Quality"
              look="picks"
              options={format.qualities.map(({ number, says }) => ({ id: String(number), name: `${says} (${number})` }))}
              value={String(quality ?? format.qualities[0]?.number)}
              onChange={(id) => setQuality(Number(id))}
            />
          </Row>
        )}
        {here && format && what === "picture" && (
          <Row name="Codec">
            <ThroughCodec key={`${format.id} ${quality}`} format={format.id} quality={quality} name={format.name} />
          </Row>
        )}
        <Row name="Frames">
          {marked ? (
            <Choice
              label="Frames"
              look="picks"
              options={[
                { id: "range", name: `${marked.first} to ${marked.last}, as marked` },
                { id: "all", name: "the whole length" },
              ]}
              value={ranged ? "range" : "all"}
              onChange={(id) => setRanged(id === "range")}
            />
          ) : (
            <Say as="span">{only?.clip ? `The whole length${clipSaid(only.clip)}` : "Each at its whole length, at its own rate"}</Say>
          )}
        </Row>
        {joinable && (
          <Row name="Files">
            <Choice
              label="Files"
              look="picks"
              options={[
                { id: "each", name: "one each" },
                { id: "one", name: "all in one, in the order of the contact sheet" },
              ]}
              value={joined ? "one" : "each"}
              onChange={(id) => setJoined(id === "one")}
            />
          </Row>
        )}
        <Row name="Sound">
          {silent || !format || what === "matte" ? (
            <Say as="span">{silent ? "It has none." : format ? "A matte has none." : "Pictures have none. They come packed in one archive."}</Say>
          ) : (
            <Choice
              label="Sound"
              look="picks"
              options={[
                { id: "keep", name: "as it came" },
                { id: "none", name: "leave out" },
              ]}
              value={sound ? "keep" : "none"}
              onChange={(id) => setSound(id === "keep")}
            />
          )}
        </Row>
      </div>
      <OrderExport project={project.id} body={body} />
    </>
  );
}

function Row({ name, children }: { readonly name: string; readonly children: ReactNode }) {
  return (
    <>
      <span className="text-label font-medium text-ink-3">{name}</span>
      <div>{children}</div>
    </>
  );
}
