/** The edge ribbon: a region's outline unrolled into a strip, inside above, outside below; a press goes there. */

import { type PointerEvent, useEffect, useState, type WheelEvent } from "react";
import { type Shot } from "../api/client";
import { fetchRibbon, type RibbonPicture } from "../api/pictures";
import { latest } from "../bench/latest";
import { regionInView, useBench } from "../bench/store";
import { regionOf } from "../document/edit";
import type { Point } from "../document/zoom";
import { EdgeGraph } from "./EdgeGraph";
import { Choice } from "../ui/Choice";
import { Strip } from "./Strip";

const HALF = 48;
const GRAPH = 188;
const ZOOMS = [1, 2, 4] as const;
const OF = ["picture", "cutout", "matte", "source"] as const;
/** After a press the picture is shown at least this large. */
const LEAST_SCALE = 1;

type Of = (typeof OF)[number];

export function Ribbon({ shot }: { readonly shot: Shot }) {
  const region = useBench((state) => regionOf(state.sheet, regionInView(state)));
  const stage = useBench((state) => state.stage);
  const compare = useBench((state) => state.compare);
  const [zoom, setZoom] = useState<number>(2);
  const [of, setOf] = useState<Of>("picture");
  const [start, setStart] = useState(0);
  const [at, setAt] = useState<Point | null>(null);
  const width = Math.max(120, Math.round((stage?.width ?? 600) * (compare === "two-up" ? 2 : 1)) - GRAPH - 56);
  const { made, problem } = useRibbon(region?.id ?? null, { start, width, half: HALF, zoom, of });
  const last = Math.max((made?.total ?? 0) - width, 0);
  const place = (event: PointerEvent<HTMLElement>) => {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    return made?.places[Math.min(Math.floor(x / made.every), made.places.length - 1)] ?? null;
  };
  return (
    <Strip
      label="Edge ribbon"
      name={region ? `Edge of ${region.name}` : "Edge ribbon"}
      says={problem || says(region !== undefined, made?.coarse ?? false)}
      choices={
        <>
        <Choice
          label="Size of the ribbon"
          options={ZOOMS.map((each) => ({ id: String(each), name: `${each * 100} %` }))}
          value={String(zoom)}
          onChange={(id) => setZoom(Number(id))}
        />
        <Choice label="What the ribbon shows" options={OF.map((id) => ({ id, name: id }))} value={of} onChange={setOf} />
        </>
      }
    >
      {region && <div className="flex gap-5">
        <div>
          <button
            type="button"
            className="block relative overflow-hidden [background:oklch(0.47_0_0)] cursor-crosshair"
            style={{ width, height: 2 * HALF }}
            aria-label="The edge as a strip"
            onPointerMove={(event) => setAt(place(event))}
            onPointerUp={(event) => goTo(place(event), shot)}
            onWheel={(event: WheelEvent) => setStart(Math.min(Math.max(start + Math.round(event.deltaY + event.deltaX), 0), last))}
          >
            {made && <img className="absolute top-0 max-w-none" src={made.url} alt="" style={{ left: made.start - start }} draggable={false} />}
            <span className="absolute [inset:50%_0_auto] h-px [background:oklch(0.97_0_0_/_0.5)] [box-shadow:0_0_0_0.5px_oklch(0.12_0_0_/_0.35)] pointer-events-none" />
          </button>
          <input
            type="range"
            className="along appearance-none w-full h-6 mt-0 mx-0 -mb-1.5 bg-transparent block disabled:opacity-40"
            aria-label="Along the edge"
            min={0}
            max={last}
            step={1}
            value={Math.min(start, last)}
            disabled={last === 0}
            onChange={(event) => setStart(Number(event.currentTarget.value))}
          />
        </div>
        <EdgeGraph region={region.id} at={at ?? made?.places.find((each) => each !== null) ?? null} reach={HALF / zoom} />
      </div>}
    </Strip>
  );
}

function says(chosen: boolean, coarse: boolean): string {
  if (!chosen) return "Choose a region to see its edge.";
  return coarse ? "still coarse; the fine edge follows" : "inside above, outside below; a press goes there";
}

/** Shows the place of the edge in the middle of the stage. */
function goTo(place: Point | null, shot: Shot): void {
  const { stage, zoom } = useBench.getState();
  if (!place || !stage) return;
  const scale = Math.max(zoom?.scale ?? 0, LEAST_SCALE, Math.min(stage.width / shot.width, stage.height / shot.height));
  useBench.setState({ zoom: { scale, x: stage.width / 2 - place.x * scale, y: stage.height / 2 - place.y * scale } });
}

type Cut = { readonly start: number; readonly width: number; readonly half: number; readonly zoom: number; readonly of: Of };

type Wanted = {
  readonly path: Parameters<typeof fetchRibbon>[0];
  readonly order: Parameters<typeof fetchRibbon>[1];
  /** Whether the edge is still being refined. */
  readonly coarse: boolean;
};
type Made = RibbonPicture & { readonly coarse: boolean };

/** The strip of the draft at rest; the last one stays while the next comes. */
function useRibbon(region: string | null, cut: Cut) {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const moving = useBench((state) => state.dragging);
  // a coarse edge is asked for again when the fine one is there
  const refining = useBench((state) => state.refining === "yes");
  const [made, setMade] = useState<Made | null>(null);
  const [problem, setProblem] = useState("");
  const [ask] = useState(() =>
    latest<Wanted>(async ({ path, order, coarse }) => {
      try {
        setMade({ ...(await fetchRibbon(path, order)), coarse });
        setProblem("");
      } catch (error) {
        setProblem(error instanceof Error ? error.message : "");
      }
    }),
  );
  const { start, width, half, zoom, of } = cut;
  useEffect(() => {
    if (at && region && !moving) ask.want({ path: at, order: { sheet, region, start, width, half, zoom, of }, coarse: refining });
  }, [ask, at, sheet, moving, refining, region, start, width, half, zoom, of]);
  useEffect(() => () => void (made && URL.revokeObjectURL(made.url)), [made]);
  return { made: region ? made : null, problem };
}
