/** The faders of one adjustment: its amount alone, or, when it is in hand, all that it has. */

import type { Frame } from "../document/numbers";
import { Choices } from "./Choices";
import { Fader } from "./Fader";
import { type Of, useAdjustment } from "./useAdjustment";
import { holds } from "./values";

type Props = Of & { readonly frame: Frame; readonly active: boolean; readonly open: boolean };

export function AdjustmentFaders({ active, open, frame, ...of }: Props) {
  const { values, set } = useAdjustment(of);
  const main = of.adjustment.parameters[0];
  const shown = of.adjustment.parameters.filter((each) => each === main || (open && holds(each, values)));
  return shown.map((parameter) =>
    parameter.kind === "choice" ? (
      <Choices
        key={parameter.id}
        parameter={parameter}
        value={String(values[parameter.id])}
        onPick={(value) => set({ [parameter.id]: value }, true)}
      />
    ) : (
      <Fader
        key={parameter.id}
        parameter={parameter}
        value={Number(values[parameter.id])}
        frame={frame}
        active={active && parameter === main}
        withPixels={parameter.unit === "length"}
        onChange={(value) => set({ [parameter.id]: value }, false)}
        onChangeEnd={(value) => set({ [parameter.id]: value }, true)}
      />
    ),
  );
}
