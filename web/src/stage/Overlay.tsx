/** Outlines and handles over the picture; they fade while a value moves and when the pointer leaves. */

import { lazy, Suspense, useMemo } from "react";
import type { Catalogue, Part, PartKind, Region } from "../api/client";
import { balance } from "../bench/sampling";
import { change, endChange } from "../bench/saving";
import { passInHand, useBench } from "../bench/store";
import { pointsOf, regionOf, setPart, setPartValues } from "../document/edit";
import { type Box, boxOutline } from "../document/box";
import { type Corners, cornersOutline } from "../document/corners";
import { type Gradient, gradientOutline } from "../document/gradient";
import type { Feathers, Outline } from "../document/outline";
import { type Point, type Size, toPicture, toStage, type Zoom } from "../document/zoom";
import { completeValues, kindOf } from "../tray/values";
import { soon } from "../ui/soon";
import { BoxHandles } from "./BoxHandles";
import { CornerHandles } from "./CornerHandles";
import { GradientHandles } from "./GradientHandles";
import { useGuides } from "./guides";
import { Line, stem } from "./lines";
import { type Changing, type Frame, QuietOutline } from "./OutlineLines";
import { EdgeBand, PaintedPart, SampledPart } from "./Painted";
import { Sampling } from "./Sampling";

/** Not needed to show the first picture; what was found is offered when something is drawn. */
const Drawing = soon(async () => (await import("./Drawing")).Drawing);
const Offers = lazy(async () => ({ default: (await import("./Offers")).Offers }));

const BORDER = 14;
/** radius of the ring round a place that is pointed out */
const MARK = 22;

type Props = {
  readonly stage: Size;
  readonly zoom: Zoom;
  readonly picture: Size;
  readonly catalogue: Catalogue;
  readonly origin: () => DOMRect;
  readonly faded: boolean;
};

export function Overlay({ stage, zoom, picture, catalogue, origin, faded }: Props) {
  const sheet = useBench((state) => state.sheet);
  const choice = useBench((state) => state.selection);
  const hand = useBench(passInHand);
  const view = useBench((state) => state.view);
  const facet = useBench((state) => state.regionTab);
  const frame = useMemo<Frame>(
    () => ({
      place: (p) => toStage(zoom, { x: p.x * picture.height, y: p.y * picture.height }),
      read: (p) => {
        const box = origin();
        const at = toPicture(zoom, { x: p.x - box.left, y: p.y - box.top });
        return { x: at.x / picture.height, y: at.y / picture.height };
      },
      inView: (p) => {
        const at = toStage(zoom, { x: p.x * picture.height, y: p.y * picture.height });
        return at.x > BORDER && at.y > BORDER && at.x < stage.width - BORDER && at.y < stage.height - BORDER;
      },
      unit: zoom.scale * picture.height,
      aspect: picture.width / picture.height,
    }),
    [zoom, picture, origin, stage],
  );
  const drawn = choice.kind === "draw" ? kindOf(catalogue, choice.part) : undefined;
  const where = choice.kind === "where" || choice.kind === "draw" ? choice.region : (sheet.passes.find((p) => p.id === hand)?.region ?? null);
  const region = regionOf(sheet, where);
  const mark = useBench((state) => state.mark);
  const balancing = useBench((state) => state.balancing);
  // the outline that the server drew stands alone
  if (choice.kind === "nothing" || (!region && !drawn && !balancing) || (view === "outline" && !drawn)) return null;
  const chosen = choice.kind === "where" ? (choice.part ?? region?.parts[0]?.id ?? null) : null;
  const held = facet === "parts" ? region?.parts.find((each) => each.id === chosen) : undefined;
  return (
    <svg className="overlay" role="group" aria-label="Outlines and handles">
      <g className={`handles${faded ? " faded" : ""}`}>
        {region?.parts.map((part) => (
          <PartHandles key={part.id} {...{ region, part, catalogue, frame }} chosen={part.id === chosen} />
        ))}
      </g>
      <GuideLines frame={frame} />
      {mark && <Mark at={toStage(zoom, mark)} />}
      {region && held && <Surface part={held} {...{ region, catalogue, frame, faded }} />}
      {region && choice.kind === "where" && facet === "edge" && <EdgeBand key={region.id} region={region} frame={frame} />}
      {choice.kind === "draw" && (
        <Suspense>
          <Offers frame={frame} />
        </Suspense>
      )}
      {balancing && <Sampling frame={frame} onBox={(box) => void balance(box)} />}
      {choice.kind === "draw" && drawn && (
        <Suspense>
          <Drawing key={drawn.id} draw={choice} kind={drawn} frame={frame} />
        </Suspense>
      )}
    </svg>
  );
}

/** A ring round a place that is pointed out. */
function Mark({ at }: { readonly at: Point }) {
  const ring = `M${at.x - MARK} ${at.y}a${MARK} ${MARK} 0 1 0 ${2 * MARK} 0a${MARK} ${MARK} 0 1 0 ${-2 * MARK} 0`;
  return (
    <g data-mark>
      <Line d={ring} width={1.75} />
    </g>
  );
}

/** The lines of the frame on which what is dragged has snapped. */
function GuideLines({ frame }: { readonly frame: Frame }) {
  const { x, y } = useGuides();
  const across = y !== null && stem(frame.place({ x: 0, y }), frame.place({ x: frame.aspect, y }));
  const down = x !== null && stem(frame.place({ x, y: 0 }), frame.place({ x, y: 1 }));
  return (
    <g data-guides={[x, y].filter((each) => each !== null).length}>
      {across && <Line d={across} width={1} />}
      {down && <Line d={down} width={1} />}
    </g>
  );
}

/** The surface of a part that is painted or sampled. */
function Surface(props: Omit<PartProps, "chosen"> & { readonly faded: boolean }) {
  const kind = kindOf(props.catalogue, props.part.kind);
  if (kind?.brushed) return <PaintedPart key={props.part.id} {...props} kind={kind} />;
  return kind?.sampled ? <SampledPart key={props.part.id} {...props} kind={kind} /> : null;
}

type PartProps = {
  readonly region: Region;
  readonly part: Part;
  readonly catalogue: Catalogue;
  readonly frame: Frame;
  readonly chosen: boolean;
};

function PartHandles({ region, part, catalogue, frame, chosen }: PartProps) {
  const kind = kindOf(catalogue, part.kind);
  if (!kind?.beads) return null;
  const values = completeValues(kind, part.values ?? {});
  const soft = values as unknown as Feathers;
  const lies = kind.beads !== "points" && (part.points ?? []).length > 0 ? cornersOutline(part.points ?? []) : null;
  if (!chosen) return <QuietOutline outline={lies ?? outlineOf(kind.beads, values, part.points ?? [])} soft={soft} frame={frame} />;
  const onChangeEnd = () => endChange(`${region.name} by hand`);
  const changing: Changing<object> = {
    onChange: (moved) => change(setPartValues(useBench.getState().sheet, region.id, part.id, { ...moved }), "", false),
    onChangeEnd,
  };
  const reshaping: Changing<Corners> = {
    onChange: (points) =>
      // points moved by hand no longer follow the pen
      change(setPart(useBench.getState().sheet, region.id, part.id, { points: pointsOf(points), path: [] }), "", false),
    onChangeEnd,
  };
  const shared = { profile: String(values.profile), frame, changing };
  switch (kind.beads) {
    case "points":
      return <CornerHandles {...shared} curved={kind.handled} corners={part.points ?? []} soft={soft} reshaping={reshaping} />;
    case "axis":
      return <GradientHandles {...shared} gradient={values as unknown as Gradient} />;
    default:
      return <BoxHandles {...shared} box={values as unknown as Box} lies={lies} />;
  }
}

function outlineOf(beads: PartKind["beads"], values: object, points: Corners): Outline {
  if (beads === "points") return cornersOutline(points);
  return beads === "axis" ? gradientOutline(values as Gradient) : boxOutline(values as Box);
}
