/** The tray of a treatment: side, groups, and the faders of the open group. */

import type { Adjustment, Catalogue, Parameter, Pass } from "../api/client";
import { change } from "../bench/saving";
import { choose, useBench } from "../bench/store";
import { dropAdjustment, setAdjustment, setPass, type Side, treatmentOf, type Value } from "../document/edit";
import type { Frame } from "../document/numbers";
import { SideGlyph } from "../marks/marks";
import { Choices } from "./Choices";
import { Fader } from "./Fader";
import { MIX, STRENGTH } from "./parameters";
import { completeValues, inGroup, says } from "./values";

type Props = {
  readonly catalogue: Catalogue;
  readonly pass: Pass;
  readonly side: Side;
  readonly group: string;
  readonly adjustment: string;
  readonly frame: Frame;
};

export function WhatTray(props: Props) {
  const { catalogue, pass, side, group, adjustment, frame } = props;
  const adjustments = inGroup(catalogue, group);
  const hand = adjustment || adjustments[0]?.id;
  const set = (id: "strength" | "mix") => (value: number, end: boolean) =>
    change(setPass(useBench.getState().sheet, pass.id, { [id]: value }), `${id} of ${pass.name}`, end);
  return (
    <>
      <div className="tray-left">
        <Sides {...props} />
        <Groups {...props} />
      </div>
      <div className="faders">
        {adjustments.map((each) => (
          <AdjustmentFaders key={each.id} {...{ pass, side, frame, group }} adjustment={each} active={each.id === hand} />
        ))}
        <span className="rule push" />
        {[STRENGTH, MIX].map((parameter) => {
          const id = parameter.id as "strength" | "mix";
          return (
            <Fader
              key={id}
              parameter={parameter}
              value={pass[id]}
              frame={frame}
              active={adjustment === id}
              withPixels={false}
              onChange={(value) => set(id)(value, false)}
              onChangeEnd={(value) => set(id)(value, true)}
            />
          );
        })}
      </div>
    </>
  );
}

function Sides({ pass, side, group }: Props) {
  const pick = (next: Side) => choose({ kind: "what", pass: pass.id, side: next, group, adjustment: "" });
  return (
    <div className="segments" role="radiogroup" aria-label="Side of the region">
      {(["inside", "outside"] as const).map((each) => (
        <button
          key={each}
          type="button"
          role="radio"
          aria-checked={side === each}
          disabled={each === "outside" && !pass.region}
          title={each === "outside" && !pass.region ? "The whole picture has no outside" : undefined}
          onClick={() => pick(each)}
        >
          <SideGlyph inside={each === "inside"} />
          {each === "inside" ? "Inside" : "Outside"}
        </button>
      ))}
    </div>
  );
}

function Groups({ catalogue, pass, side, group }: Props) {
  const treatment = treatmentOf(pass, side);
  return (
    <div className="groups" role="tablist" aria-label="Groups of adjustments">
      {catalogue.groups.map((each) => {
        const holds = inGroup(catalogue, each).some((adjustment) => says(adjustment, treatment[adjustment.id]));
        return (
          <button
            key={each}
            type="button"
            role="tab"
            className={holds ? "holds" : ""}
            aria-selected={each === group}
            onClick={() => choose({ kind: "what", pass: pass.id, side, group: each, adjustment: "" })}
          >
            <span>{each}</span>
          </button>
        );
      })}
    </div>
  );
}

type FadersProps = {
  readonly pass: Pass;
  readonly side: Side;
  readonly adjustment: Adjustment;
  readonly group: string;
  readonly frame: Frame;
  readonly active: boolean;
};

function AdjustmentFaders({ pass, side, adjustment, group, frame, active }: FadersProps) {
  const values = completeValues(adjustment, treatmentOf(pass, side)[adjustment.id] ?? {});
  const main = adjustment.parameters[0];
  const set = (parameter: Parameter, value: Value, end: boolean) => {
    const { sheet, choice } = useBench.getState();
    const gone = end && parameter === main && value === main.neutral;
    const next = gone
      ? dropAdjustment(sheet, pass.id, side, adjustment.id)
      : setAdjustment(sheet, pass.id, side, adjustment.id, { [parameter.id]: value });
    if (choice.kind !== "what" || choice.adjustment !== adjustment.id) {
      choose({ kind: "what", pass: pass.id, side, group, adjustment: adjustment.id });
    }
    change(next, adjustment.name.toLowerCase(), end);
  };
  return adjustment.parameters.map((parameter) =>
    parameter.kind === "choice" ? (
      <Choices
        key={parameter.id}
        parameter={parameter}
        value={String(values[parameter.id])}
        onPick={(value) => set(parameter, value, true)}
      />
    ) : (
      <Fader
        key={parameter.id}
        parameter={parameter}
        value={Number(values[parameter.id])}
        frame={frame}
        active={active && parameter === main}
        withPixels={parameter.unit === "length"}
        onChange={(value) => set(parameter, value, false)}
        onChangeEnd={(value) => set(parameter, value, true)}
      />
    ),
  );
}
