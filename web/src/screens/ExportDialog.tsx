/** Export: what to write, and the queue with progress. */

import { useState } from "react";
import type { ExportOrder, ProjectDetail, Shot } from "../api/client";
import { useBench } from "../bench/store";
import { Dialog } from "../marks/Dialog";
import { ExportList } from "./ExportList";
import { useOrderExport } from "../api/queries";

type Props = { readonly project: ProjectDetail; readonly shots: readonly Shot[]; readonly onClose: () => void };
type Kind = { readonly name: string; readonly format: "png" | "jpeg" | "tiff"; readonly bits: number };

const KINDS: readonly Kind[] = [
  { name: "PNG, 16 bit", format: "png", bits: 16 },
  { name: "PNG, 8 bit", format: "png", bits: 8 },
  { name: "JPEG", format: "jpeg", bits: 8 },
  { name: "TIFF, 16 bit", format: "tiff", bits: 16 },
];

export function ExportDialog({ project, shots, onClose }: Props) {
  const [kind, setKind] = useState<Kind>(KINDS[0] as Kind);
  const [quality, setQuality] = useState(92);
  const [metadata, setMetadata] = useState(false);
  const order = useOrderExport(project.id);
  const unsaved = useBench((state) => state.saving !== "saved");
  const body: ExportOrder = {
    shots: shots.map((shot) => shot.id),
    format: kind.format,
    bits: kind.bits,
    quality,
    keep_metadata: metadata,
  };
  const what = shots.length === 1 ? (shots[0]?.name ?? "") : `${shots.length} shots`;
  return (
    <Dialog title={`Export ${what}`} onClose={onClose}>
      <div className="form">
        <span className="label">File</span>
        <div className="row" role="radiogroup" aria-label="File">
          {KINDS.map((each) => (
            <Pick key={each.name} name={each.name} on={each === kind} onPick={() => setKind(each)} />
          ))}
        </div>
        {kind.format === "jpeg" && (
          <>
            <label className="label" htmlFor="quality">
              Quality
            </label>
            <div className="row">
              <input
                id="quality"
                type="number"
                className="input input-sm text-field"
                style={{ width: 80 }}
                min={1}
                max={100}
                value={quality}
                onChange={(event) => setQuality(Math.min(Math.max(event.currentTarget.valueAsNumber || 1, 1), 100))}
              />
              <span className="say">1 is smallest, 100 is best</span>
            </div>
          </>
        )}
        <span className="label">Metadata</span>
        <div className="row" role="radiogroup" aria-label="Metadata">
          <Pick name="leave out" on={!metadata} onPick={() => setMetadata(false)} />
          <Pick name="keep, without the embedded picture" on={metadata} onPick={() => setMetadata(true)} />
        </div>
        <span className="label">Size</span>
        <span className="say">{sizeOf(shots)}, in the colours of the source, with its profile</span>
      </div>
      <div style={{ display: "flex", gap: 16, alignItems: "center" }}>
        <button
          type="button"
          className="btn btn-sm btn-primary plain fill"
          disabled={order.isPending || unsaved}
          onClick={() => order.mutate(body)}
        >
          Export
        </button>
        {order.error && (
          <span className="say" role="alert">
            {order.error.message}
          </span>
        )}
      </div>
      <ExportList project={project.id} />
    </Dialog>
  );
}

function sizeOf(shots: readonly Shot[]): string {
  const [first] = shots;
  return shots.length === 1 && first ? `${first.width} × ${first.height} px` : "Each at its full size";
}

type PickProps = { readonly name: string; readonly on: boolean; readonly onPick: () => void };

function Pick({ name, on, onPick }: PickProps) {
  return (
    <button type="button" role="radio" aria-checked={on} className="pick-word" onClick={onPick}>
      {name}
    </button>
  );
}
