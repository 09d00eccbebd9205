/** What is said of one part of a region besides its numbers: choices, and what can be done to it. */

import { useState } from "react";
import type { Catalogue, Part, Region } from "../api/client";
import { touchAt } from "../bench/sampling";
import { follow, mirror } from "../bench/regions";
import { change } from "../bench/saving";
import { select, useBench } from "../bench/store";
import { partEarlier, removePart, setPart, setPartValues } from "../document/edit";
import { endOf } from "../document/strokes";
import { DoesWords, TakesWords } from "./ReadWords";
import { kindOf, standsFor } from "./values";
import { Choice } from "../ui/Choice";
import { Button } from "../ui/Button";
import { WordLine } from "../ui/Words";

type Props = { readonly catalogue: Catalogue; readonly region: Region; readonly part: Part };

/** What painting or sampling does for a part. */
export function Does({ catalogue, region, part }: Props) {
  const kind = kindOf(catalogue, part.kind);
  if (kind?.sampled) return <TakesWords kind={kind} />;
  if (!kind?.brushed) return null;
  const open = () =>
    change(setPart(useBench.getState().sheet, region.id, part.id, { points: [] }), "without the loose outline");
  return (
    <>
      <DoesWords marks={kind.drawn === "marks"} />
      {kind.drawn === "marks" && (part.points ?? []).length > 0 && (
        <Button title="Keeps the marks; all beyond the outline may be subject too" onClick={open}>
          without the loose outline
        </Button>
      )}
      {kind.drawn === "strokes" && <Fits {...{ region, part }} />}
    </>
  );
}

/** Sets the brush to fit the edge where the last stroke ended. */
function Fits({ region, part }: Omit<Props, "catalogue">) {
  const [says, setSays] = useState("");
  const last = endOf(part.strokes?.at(-1));
  if (!last) return null;
  const fit = async () => {
    const found = await touchAt(last.x, last.y);
    setSays(found?.says ?? "");
    if (found?.size == null || found.hardness == null) return;
    const values = { size: found.size, hardness: found.hardness };
    change(setPartValues(useBench.getState().sheet, region.id, part.id, values), "fit the brush");
  };
  return (
    <WordLine>
      <Button title="Measures the picture's edge where the last stroke ended" onClick={() => void fit()}>
        fit the edge
      </Button>
      {says && <span role="status">{says}</span>}
    </WordLine>
  );
}

/** The choices of a part, as words in a row. */
export function Edge({ catalogue, region, part }: Props) {
  const kind = kindOf(catalogue, part.kind);
  // painted and sampled kinds have theirs beside the faders
  if (!kind || kind.brushed || kind.sampled) return null;
  const choices = kind.parameters.filter((parameter) => parameter.kind === "choice");
  const set = (id: string, value: string, label: string) =>
    change(setPartValues(useBench.getState().sheet, region.id, part.id, { [id]: value }), label);
  return choices.map((parameter) => (
    <Choice
      key={parameter.id}
      label={parameter.name}
      className="min-h-6 gap-x-2.25 text-label font-medium text-ink-2 [&>label]:min-w-6"
      lead={`${parameter.name}:`}
      options={(parameter.options ?? []).map((each) => ({ ...each, tip: `${parameter.name}: how the part falls from whole to nothing` }))}
      value={String(part.values?.[parameter.id] ?? parameter.neutral)}
      onChange={(id) => set(parameter.id, id, parameter.name.toLowerCase())}
    />
  ));
}

const CLOSENESS = [
  [0.001, "closer"],
  [0.003, "evenly"],
  [0.01, "looser"],
] as const;

/** While the way of the pen is kept, the curve can follow it closer or looser; accepted, its points are its own. */
export function Follows({ region, part }: Omit<Props, "catalogue">) {
  if (!part.path?.length) return null;
  const accept = () =>
    change(setPart(useBench.getState().sheet, region.id, part.id, { path: [] }), "accept the curve");
  return (
    <WordLine>
      Follow:
      {CLOSENESS.map(([tolerance, name]) => (
        <Button key={name} title="How near the curve keeps to the way of the pen" onClick={() => void follow(region.id, part.id, tolerance)}>
          {name}
        </Button>
      ))}
      <Button title="Keeps the points, lets the way of the pen go" onClick={accept}>
        accept
      </Button>
    </WordLine>
  );
}

export function PartVerbs({ catalogue, region, part }: Props) {
  const kind = kindOf(catalogue, part.kind);
  const set = (fields: Partial<Part>, label: string) =>
    change(setPart(useBench.getState().sheet, region.id, part.id, fields), label);
  const remove = () => {
    select({ kind: "where", pass: passOf(), region: region.id, part: null });
    change(removePart(useBench.getState().sheet, region.id, part.id), "remove a part");
  };
  const at = region.parts.findIndex((each) => each.id === part.id);
  const earlier = () => change(partEarlier(useBench.getState().sheet, region.id, part.id), "order of parts");
  return (
    <WordLine>
      <Button
        title="The part counts everywhere but where it is drawn"
        aria-pressed={part.complement}
        onClick={() => set({ complement: !part.complement }, "everywhere but")}
      >
        everywhere else
      </Button>
      <Button title="The part stays, and counts for nothing" onClick={() => set({ on: !part.on }, part.on ? "part off" : "part on")}>
        {part.on ? "switch off" : "switch on"}
      </Button>
      {kind && !standsFor(kind) && (
        <Button title="Left to right about the frame's middle" onClick={() => void mirror(region.id, part.id)}>
          mirror
        </Button>
      )}
      {at > 0 && (
        <Button title="One place earlier among the parts" onClick={earlier}>
          earlier
        </Button>
      )}
      {region.parts.length > 1 && (
        <Button title="Takes the part from the region" onClick={remove}>
          remove
        </Button>
      )}
    </WordLine>
  );
}

function passOf(): string | null {
  const { selection: choice } = useBench.getState();
  return choice.kind === "nothing" ? null : choice.pass;
}
