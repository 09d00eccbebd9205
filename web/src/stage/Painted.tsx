/** The surface of a chosen part that is painted or sampled, and of an edge that is resolved anew. */

import type { Part, PartKind, Region, Stroke } from "../api/client";
import { takeSample } from "../bench/sampling";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { setPart, setPartValues, setRegion } from "../document/edit";
import { type Brush, HARD, pointsAlong } from "../document/strokes";
import { setMarks } from "../document/tracks";
import { completeValues } from "../tray/values";
import { Brushing } from "./Brushing";
import { Line, pathsOf } from "./lines";
import type { Frame } from "./OutlineLines";
import { Samples, Sampling } from "./Sampling";

type Props = { readonly region: Region; readonly part: Part; readonly kind: PartKind; readonly frame: Frame };

/** The brush that a part holds. */
export function brushOf(kind: PartKind, part: Pick<Part, "values">): Brush {
  const values = completeValues(kind, part.values ?? {});
  if (kind.drawn !== "strokes") return { ...HARD, size: Number(values.size) };
  return {
    size: Number(values.size),
    hardness: Number(values.hardness),
    flow: Number(values.flow),
    density: Number(values.density),
    colour_tolerance: Number(values.colour_tolerance),
    pen: String(values.pen) as Brush["pen"],
  };
}

const sheet = () => useBench.getState().sheet;

export function PaintedPart({ region, part, kind, frame, faded }: Props & { readonly faded: boolean }) {
  const here = useBench((state) => state.frame);
  // away from where it was marked, marks correct what was cut in that frame
  const corrects = kind.drawn === "marks" && region.track && here !== null && here !== region.track.at ? here : null;
  const strokes = corrects === null ? (part.strokes ?? []) : (region.track?.marks?.[corrects] ?? []);
  const put = (stroke: Stroke, end: boolean) => {
    const all = [...strokes, stroke];
    change(corrects === null ? setPart(sheet(), region.id, part.id, { strokes: all }) : setMarks(sheet(), region.id, corrects, all), "stroke", end);
  };
  const hold = (brush: Partial<Brush>, end: boolean) => {
    const known = kind.drawn === "strokes" ? brush : { size: brush.size };
    change(setPartValues(sheet(), region.id, part.id, known as Record<string, number>), "brush", end);
  };
  return (
    <>
      <g className={`handles${faded ? " faded" : ""}`}>{kind.drawn === "marks" && <Marks points={corrects === null ? (part.points ?? []) : []} {...{ strokes, frame }} />}</g>
      <Brushing {...{ frame }} brush={brushOf(kind, part)} last={strokes.at(-1)} onStroke={put} onBrush={hold} />
    </>
  );
}

/** What was marked for a rough-in: whole lines on the subject, dashed ones on the surround, and the loose outline. */
function Marks({ points, strokes, frame }: { readonly points: readonly (readonly number[])[]; readonly strokes: readonly Stroke[] } & Pick<Props, "frame">) {
  const outline = points.map(([x = 0, y = 0]) => ({ x, y }));
  return (
    <>
      {outline.length > 2 && <Line d={pathsOf([{ points: outline, closed: true }], frame.place)} width={1} dash="5 4" />}
      {strokes.map((stroke, index) => {
        const along = pointsAlong(stroke);
        const [first] = along;
        const way = along.length > 1 || !first ? along : [first, { x: first.x + 1e-4, y: first.y }];
        const d = pathsOf([{ points: way, closed: false }], frame.place);
        // a stroke has no name but its place in the order
        return <Line key={`mark-${index + 1}`} d={d} width={1.5} {...(stroke.does === "erase" && { dash: "2 5" })} />;
      })}
    </>
  );
}

export function SampledPart({ region, part, kind, frame }: Props) {
  const takes = useBench((state) => state.sampleMode);
  // the first sample sets; a sampled colour has nothing to be set anew
  const does = takes === "set" && kind.slopes.length === 0 ? "add" : takes;
  const remove = (index: number) => {
    const samples = (part.samples ?? []).filter((_, k) => k !== index);
    change(setPart(useBench.getState().sheet, region.id, part.id, { samples }), "take a sample away");
  };
  return (
    <>
      <Sampling frame={frame} onBox={(box) => void takeSample(region.id, part.id, box, does)} />
      <Samples {...{ part, frame }} onRemove={remove} />
    </>
  );
}

/** Marking where a region's edge is resolved anew. */
export function EdgeBand({ region, frame }: Pick<Props, "region" | "frame">) {
  const size = useBench((state) => state.band);
  const strokes = region.band ?? [];
  const put = (stroke: Stroke, end: boolean) =>
    change(setRegion(useBench.getState().sheet, region.id, { band: [...strokes, stroke] }), "mark the edge", end);
  return (
    <>
      {strokes.map((stroke, index) => (
        <path
          // a stroke has no name but its place in the order
          key={`band-${index + 1}`}
          d={pathsOf([{ points: pointsAlong(stroke), closed: false }], frame.place)}
          className={`trail rest${stroke.does === "erase" ? " takes" : ""}`}
          strokeWidth={stroke.size * frame.unit}
        />
      ))}
      <Brushing
        frame={frame}
        brush={{ ...HARD, size, hardness: 0.8 }}
        last={strokes.at(-1)}
        onStroke={put}
        onBrush={(brush) => brush.size && useBench.setState({ band: brush.size })}
      />
    </>
  );
}
