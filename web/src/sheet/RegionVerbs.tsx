/** What can be done to the chosen region as a whole. */

import { useState } from "react";
import type { Shot } from "../api/client";
import { exportOutlines, mirror } from "../bench/regions";
import { change } from "../bench/saving";
import { choose, NOTHING, useBench } from "../bench/store";
import { duplicateRegion, passesUsing, regionsUsing, removeRegion } from "../document/edit";
import { CopyDialog } from "./CopyDialog";
import { DeleteDialog } from "./DeleteDialog";

type Props = { readonly region: string; readonly shot: Shot };

export function RegionVerbs({ region, shot }: Props) {
  const [asking, setAsking] = useState<"nothing" | "copy" | "delete">("nothing");
  const close = () => setAsking("nothing");
  const remove = () => {
    const { sheet } = useBench.getState();
    const used = passesUsing(sheet, region).length + regionsUsing(sheet, region).length > 0;
    if (used) setAsking("delete");
    else drop(region, "whole");
  };
  return (
    <div className="joins region-verbs -mt-1 mx-0 mb-2 gap-y-0.5 gap-x-3">
      <button type="button" title="A copy beside it on the shelf, used by no pass yet" className="word" onClick={() => duplicate(region)}>
        duplicate
      </button>
      <button type="button" title="Left to right about the frame’s middle" className="word" onClick={() => void mirror(region, null)}>
        mirror
      </button>
      <button type="button" title="Onto the shelves of other shots" className="word" onClick={() => setAsking("copy")}>
        copy to…
      </button>
      <button type="button" className="word" title="Its outlines as an SVG file" onClick={() => void exportOutlines(region)}>
        save SVG
      </button>
      <button type="button" title="Says first which passes stand on it" className="word" onClick={remove}>
        delete
      </button>
      {asking === "copy" && <CopyDialog region={region} shot={shot} onClose={close} />}
      {asking === "delete" && (
        <DeleteDialog
          region={region}
          onClose={close}
          onDelete={(passes) => {
            close();
            drop(region, passes);
          }}
        />
      )}
    </div>
  );
}

function duplicate(region: string): void {
  const made = duplicateRegion(useBench.getState().sheet, region);
  change(made.sheet, "duplicate a region");
  choose({ kind: "where", pass: null, region: made.id, part: null });
}

function drop(region: string, passes: "go" | "whole"): void {
  choose(NOTHING);
  change(removeRegion(useBench.getState().sheet, region, passes), "delete a region");
}
