/** What can be done to the chosen region as a whole. */

import { lazy, Suspense, useState } from "react";
import type { Shot } from "../api/client";
import { exportOutlines, mirror } from "../bench/regions";
import { change } from "../bench/saving";
import { select, NOTHING, useBench } from "../bench/store";
import { duplicateRegion, passesUsing, regionsUsing, removeRegion } from "../document/edit";
import { Button } from "../ui/Button";
import { WordLine } from "../ui/Words";

const CopyDialog = lazy(() => import("./CopyDialog").then((made) => ({ default: made.CopyDialog })));
const DeleteDialog = lazy(() => import("./DeleteDialog").then((made) => ({ default: made.DeleteDialog })));

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
    <WordLine className="-mt-1 mb-2 gap-x-3 [&>button]:pt-1.25 [&>button]:pb-0.5">
      <Button title="A copy beside it on the shelf, used by no pass yet" onClick={() => duplicate(region)}>
        duplicate
      </Button>
      <Button title="Left to right about the frame’s middle" onClick={() => void mirror(region, null)}>
        mirror
      </Button>
      <Button title="Onto the shelves of other shots" onClick={() => setAsking("copy")}>
        copy to…
      </Button>
      <Button title="Its outlines as an SVG file" onClick={() => void exportOutlines(region)}>
        save SVG
      </Button>
      <Button title="Says first which passes stand on it" onClick={remove}>
        delete
      </Button>
      <Suspense>
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
      </Suspense>
    </WordLine>
  );
}

function duplicate(region: string): void {
  const made = duplicateRegion(useBench.getState().sheet, region);
  change(made.sheet, "duplicate a region");
  select({ kind: "where", pass: null, region: made.id, part: null });
}

function drop(region: string, passes: "go" | "whole"): void {
  select(NOTHING);
  change(removeRegion(useBench.getState().sheet, region, passes), "delete a region");
}
