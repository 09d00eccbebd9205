/** Islands and holes of a region's matte, each kept or dropped. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { usePictureUrl } from "../api/usePictureUrl";
import { Missing } from "../ui/Missing";
import { api, asked, type Piece as Schema, type Region, type Shot } from "../api/client";
import { DRAFT, NOTHING, onDraft } from "../api/draft";
import { PLAIN_VIEW } from "../api/pictures";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { setRegion, withLower } from "../document/edit";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

type Props = { readonly region: Region; readonly shot: Shot };
type Piece = Omit<Schema, "box"> & { readonly box: readonly number[] };

const WIDTH = 84;
const HEIGHT = 56;
/** Room round a piece, so that it is seen where it lies. */
const ROUND = 0.35;

export function Pieces({ region, shot }: Props) {
  const { data: found, error } = usePieces(region);
  if (error) return <Say role="alert">{error.message}</Say>;
  if (!found) return <Say>One moment…</Say>;
  if (found.pieces.length === 0) return <Say>The matte is of one piece, and has no hole.</Say>;
  const set = (piece: Piece) => {
    const { kind, x, y } = piece;
    const removed = region.removed ?? [];
    const next = piece.removed
      ? removed.filter((each) => each.kind !== kind || each.x !== x || each.y !== y)
      : [...removed, { kind, x, y }];
    const label = `${piece.removed ? "keep" : "drop"} ${kind === "hole" ? "a hole" : "an island"}`;
    change(setRegion(useBench.getState().sheet, region.id, { removed: next }), label);
  };
  return (
    <div className="flex gap-3.5 pt-0.5 pr-1 pb-2 pl-3.5 overflow-x-auto min-w-0 items-start" role="list" aria-label="Islands and holes">
      {found.pieces.map((piece) => (
        <div key={`${piece.kind} ${piece.x} ${piece.y}`} className={`flex flex-none flex-col items-start gap-1 text-label font-medium whitespace-nowrap text-ink-2 ${piece.removed ? "[&_img]:opacity-35" : ""}`} role="listitem">
          <Thumb {...{ region, shot, piece }} />
          <span>
            {piece.kind}, {areaText(piece.area)}
          </span>
          <Button title="A dropped piece stays dropped while the region changes" aria-label={`${piece.removed ? "keep" : "drop"} the ${piece.kind}`} onClick={() => set(piece)}>
            {piece.removed ? "dropped; keep" : "drop"}
          </Button>
        </div>
      ))}
      {found.more > 0 && <Say>And {found.more} smaller ones. Opening or smoothing takes them all at once.</Say>}
    </div>
  );
}

function areaText(area: number): string {
  const percent = area * 100;
  return percent < 0.01 ? "under 0.01 %" : `${percent.toFixed(percent < 1 ? 2 : 1)} %`;
}

/** What is found on the region at rest; the last answer stays while the next one comes. */
function usePieces(region: Region) {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const moving = useBench((state) => state.dragging);
  const regions = withLower(sheet, region);
  const query = { region: region.id };
  return useQuery({
    queryKey: ["pieces", at, region.id, JSON.stringify(regions)],
    queryFn: () => at && onDraft(at, { ...NOTHING, regions: [...regions] }, (path) => asked(api.GET(`${DRAFT}/pieces`, { params: { path, query } }))),
    enabled: at !== null && !moving,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
}

/** The matte round a piece, as it would be with nothing dropped. */
function Thumb({ region, shot, piece }: Props & { readonly piece: Piece }) {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const whole = withLower(sheet, { ...region, removed: [] });
  const [left = 0, top = 0, right = 0, bottom = 0] = piece.box;
  const { url, failed } = usePictureUrl(at, `piece ${piece.box.join(" ")} ${JSON.stringify(whole)}`, () => {
    const wide = Math.max(right - left, ((bottom - top) * WIDTH) / HEIGHT, 0.02) * (1 + 2 * ROUND);
    const high = (wide * HEIGHT) / WIDTH;
    const x = Math.max(((left + right - wide) / 2) * shot.height, 0);
    const y = Math.max(((top + bottom - high) / 2) * shot.height, 0);
    const width = Math.min(wide * shot.height, shot.width - x);
    const height = Math.min(high * shot.height, shot.height - y);
    return {
      sheet: { ...NOTHING, regions: [...whole] },
      view: "matte",
      rectangle: [x, y, width, height],
      scale: Math.min((2 * WIDTH) / width, 1),
      region: region.id,
      ...PLAIN_VIEW,
      format: "png",
    };
  });
  return <span className="h-14 w-21 border-b-2 border-ink-3 bg-field">{url && <img className="size-full object-contain" src={url} alt="" width={WIDTH} height={HEIGHT} />}{failed && <Missing />}</span>;
}
