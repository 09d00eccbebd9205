/** Before a region that is used goes: who uses it, and what is to become of them. */

import { useBench } from "../bench/store";
import { passesUsing, regionOf, regionsUsing } from "../document/edit";
import { Dialog } from "../ui/Dialog";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

type Props = {
  readonly region: string;
  readonly onClose: () => void;
  readonly onDelete: (passes: "go" | "whole") => void;
};

function listed(names: readonly string[]): string {
  return names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
}

export function DeleteDialog({ region, onClose, onDelete }: Props) {
  const sheet = useBench((state) => state.sheet);
  const name = regionOf(sheet, region)?.name ?? "";
  const passes = passesUsing(sheet, region).map((pass) => `“${pass.name}”`);
  const regions = regionsUsing(sheet, region).map((each) => `“${each.name}”`);
  return (
    <Dialog title={`Delete “${name}”?`} onClose={onClose}>
      <div className="grid gap-2.5 mt-3.5 max-w-140">
        {passes.length > 0 && (
          <Say>
            {passes.length === 1 ? "The pass" : "The passes"} {listed(passes)} {passes.length === 1 ? "works" : "work"} on it.
          </Say>
        )}
        {regions.length > 0 && (
          <Say>
            It is a part of {listed(regions)}, which {regions.length === 1 ? "goes" : "go"} on without it.
          </Say>
        )}
        <div className="flex flex-wrap gap-2.5">
          {passes.length > 0 && (
            <Button look="line" onClick={() => onDelete("go")}>
              Delete it with {passes.length === 1 ? "that pass" : "those passes"}
            </Button>
          )}
          <Button look="line" onClick={() => onDelete("whole")}>
            {passes.length === 0 ? "Delete it" : `Delete it; ${passes.length === 1 ? "the pass takes" : "the passes take"} the whole picture`}
          </Button>
          <Button look="line" onClick={onClose}>
            Keep it
          </Button>
        </div>
        <Say>Undo brings it back.</Say>
      </div>
    </Dialog>
  );
}
