/** The numbers of one part of a region, or what it stands for. */

import { useState } from "react";
import type { Catalogue, Part, PartKind, Region } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { setPart, setPartValues, type Value } from "../document/edit";
import type { Frame } from "../document/numbers";
import { Choices } from "./Choices";
import { Fader } from "./Fader";
import { OPACITY } from "./parameters";
import { completeValues, holds, kindOf, standsFor } from "./values";
import { Select } from "../ui/Field";
import { Faders } from "./Faders";

/** From so many on they take the whole width of the tray. */
const MANY = 8;

type FadersProps = {
  readonly catalogue: Catalogue;
  readonly region: Region;
  readonly part: Part;
  readonly frame: Frame;
};

export function PartFaders({ catalogue, region, part, frame }: FadersProps) {
  const [hand, setHand] = useState("");
  const kind = kindOf(catalogue, part.kind);
  if (!kind) return null;
  const values = completeValues(kind, part.values ?? {});
  const set = (id: string, name: string, value: Value, end: boolean) => {
    setHand(id);
    change(setPartValues(useBench.getState().sheet, region.id, part.id, { [id]: value }), name.toLowerCase(), end);
  };
  const opacity = (value: number, end: boolean) => {
    setHand("opacity");
    change(setPart(useBench.getState().sheet, region.id, part.id, { opacity: value }), "opacity", end);
  };
  const faders = kind.parameters.filter((parameter) => parameter.kind === "number" && holds(parameter, values));
  return (
    <Faders few={faders.length < MANY}>
      {standsFor(kind) && <StandsFor {...{ region, part }} />}
      {faders.flatMap((parameter, index) => [
        index > 0 && parameter.apart && (
          <span key={`rule-${parameter.id}`} className="mx-0.5 mb-3 w-px flex-none bg-line" />
        ),
        <Fader
          key={parameter.id}
          parameter={parameter}
          value={Number(values[parameter.id])}
          frame={frame}
          active={hand === parameter.id}
          withPixels
          onChange={(value) => set(parameter.id, parameter.name, value, false)}
          onChangeEnd={(value) => set(parameter.id, parameter.name, value, true)}
        />,
      ])}
      <Fader
        parameter={OPACITY}
        value={part.opacity}
        frame={frame}
        active={hand === "opacity"}
        withPixels
        onChange={(value) => opacity(value, false)}
        onChangeEnd={(value) => opacity(value, true)}
      />
      {(kind.brushed || kind.sampled) && <PartChoices {...{ kind, region, part }} />}
    </Faders>
  );
}

type ChoicesProps = { readonly kind: PartKind; readonly region: Region; readonly part: Part };

/** The choices of a painted or sampled part, beside its numbers. */
export function PartChoices({ kind, region, part }: ChoicesProps) {
  const switches = new Set(kind.slopes.map((slope) => slope.on));
  const values = completeValues(kind, part.values ?? {});
  return kind.parameters
    .filter((parameter) => parameter.kind === "choice" && !switches.has(parameter.id))
    .map((parameter) => (
      <Choices
        key={parameter.id}
        parameter={parameter}
        value={String(values[parameter.id])}
        onPick={(value) =>
          change(setPartValues(useBench.getState().sheet, region.id, part.id, { [parameter.id]: value }), parameter.name.toLowerCase())
        }
      />
    ));
}

/** Which region a part stands for. */
function StandsFor({ region, part }: { readonly region: Region; readonly part: Part }) {
  const regions = useBench((state) => state.sheet.regions);
  const pick = (id: string) =>
    change(setPartValues(useBench.getState().sheet, region.id, part.id, { region: id }), "which region");
  return (
    <label className="flex max-w-60 flex-col items-start gap-1 pt-1 pr-6 pl-2 text-label font-medium text-ink-2">
      It stands for
      <Select
        size="small"
        value={String(part.values?.region ?? "")}
        onChange={(event) => pick(event.currentTarget.value)}
      >
        {regions
          .filter((each) => each.id !== region.id)
          .map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
      </Select>
      <small className="text-note font-medium text-ink-3">What is changed there changes here.</small>
    </label>
  );
}
