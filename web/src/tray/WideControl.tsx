/** An adjustment that takes the whole tray: its special control, then its faders; a word leads back to its group. */

import { select } from "../bench/store";
import type { Frame } from "../document/numbers";
import { Chevron } from "../icons/icons";
import { CdlFiles } from "./CdlFiles";
import { Choices } from "./Choices";
import { CurveControl } from "./CurveControl";
import { Fader } from "./Fader";
import { HueRing } from "./HueRing";
import { TableFile } from "./TableFile";
import { TonePad } from "./TonePad";
import { type Of, useAdjustment } from "./useAdjustment";
import { holds, isNumber } from "./values";
import { Button } from "../ui/Button";
import type { Value } from "../document/edit";

export function WideControl({ frame, ...of }: Of & { readonly frame: Frame }) {
  const { adjustment, pass, side, group } = of;
  const { values, set } = useAdjustment(of);
  // on the pad two of three numbers are a place
  const placed = adjustment.control === "pad" ? /_[xy]$/ : null;
  // and round the ring each number has its bead
  const round = adjustment.control === "ring" ? adjustment.parameters.slice(1) : [];
  const shown = adjustment.parameters.filter((each) => holds(each, values) && !placed?.test(each.id) && !round.includes(each));
  return (
    <>
      <div className="flex max-w-33 min-w-19.5 flex-col items-start gap-1 text-label font-medium text-ink-2 [&>button]:inline-flex [&>button]:min-h-6 [&>button]:items-center [&>button]:gap-1">
        <Button
          title={`All of ${group}`}
          onClick={() => select({ kind: "what", pass: pass.id, side, group, adjustment: "" })}
        >
          <Chevron to="left" /> {group}
        </Button>
        <b className="text-ui font-semibold text-ink">{adjustment.name}</b>
        {adjustment.control === "cdl" && <CdlFiles values={values} onRead={(read) => set(read, true)} />}
        {adjustment.control === "lut" && (
          <TableFile name={String(values.name ?? "")} onRead={(read) => set({ ...read, amount: 1 }, true)} />
        )}
      </div>
      {(adjustment.control === "curve" || adjustment.control === "response") && (
        <CurveControl
          {...of}
          values={values}
          onChange={(id, points, end) =>
            // a curve that was drawn is meant to be seen
            set({ [id]: points, ...(values.amount === 0 ? { amount: adjustment.control === "curve" ? 1 : 0.3 } : {}) }, end)
          }
        />
      )}
      {adjustment.control === "pad" && <TonePad values={values} onChange={set} />}
      {round.length > 0 && <HueRing of={adjustment.parameters[0]?.name ?? adjustment.name} hues={round} {...{ values, frame }} onChange={(next, end) => set(begun(values, next), end)} />}
      {shown.map((parameter) =>
        parameter.kind === "choice" ? (
          <Choices
            key={parameter.id}
            parameter={parameter}
            value={String(values[parameter.id])}
            onPick={(value) => set({ [parameter.id]: value }, true)}
          />
        ) : isNumber(parameter) ? (
          <Fader
            key={parameter.id}
            parameter={parameter}
            value={Number(values[parameter.id])}
            frame={frame}
            active={parameter === adjustment.parameters[0]}
            withPixels={parameter.unit === "length"}
            onChange={(value) => set({ [parameter.id]: value }, false)}
            onChangeEnd={(value) => set({ [parameter.id]: value }, true)}
          />
        ) : null,
      )}
    </>
  );
}

/** What stands at nothing acts whole as soon as something of it is set: who sets it means to see it. */
function begun(values: Readonly<Record<string, Value>>, next: Record<string, Value>): Record<string, Value> {
  return values.amount === 0 ? { ...next, amount: 1 } : next;
}
