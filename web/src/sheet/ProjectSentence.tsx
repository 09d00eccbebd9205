/** A project's pass in words; a press on what it does opens its numbers in place, for every shot. */

import { useState } from "react";
import type { Catalogue, Pass, Token } from "../api/client";
import { type Side, treatmentOf } from "../document/edit";
import type { Frame } from "../document/numbers";
import { NumberField } from "../tray/NumberField";
import { adjustmentOf, holds, isNumber, completeValues } from "../tray/values";
import { InlineButton } from "./InlineButton";

type Treatment = NonNullable<Pass["inside"]>;
type Open = { readonly side: Side; readonly adjustment: string };
type Props = {
  readonly pass: Pass;
  readonly tokens: readonly Token[];
  readonly catalogue: Catalogue;
  readonly frame: Frame;
  readonly onChange: (side: Side, treatment: Treatment) => void;
};

export function ProjectSentence({ pass, tokens, ...rest }: Props) {
  const [open, setOpen] = useState<Open | null>(null);
  return (
    <>
      <p>
        {tokens.map((token, index) => {
          const words = token.value ? `${token.text} ${token.value}` : token.text;
          const { side, adjustment } = token;
          if (token.kind !== "what" || !side || !adjustment) return words;
          const on = open?.side === side && open.adjustment === adjustment;
          return (
            // the tokens of a sentence have no names of their own; their order is their identity
            <InlineButton
              key={`${index}-${token.kind}`}
              className={`what${on ? " chosen" : ""}`}
              pressed={on}
              onPress={() => setOpen(on ? null : { side, adjustment })}
            >
              {words}
            </InlineButton>
          );
        })}
      </p>
      {open && <Numbers {...rest} {...{ pass, open }} />}
    </>
  );
}

type NumbersProps = Omit<Props, "tokens"> & { readonly open: Open };

function Numbers({ pass, open: { side, adjustment: id }, catalogue, frame, onChange }: NumbersProps) {
  const adjustment = adjustmentOf(catalogue, id);
  if (!adjustment) return null;
  const treatment = treatmentOf(pass, side);
  const values = completeValues(adjustment, treatment[id] ?? {});
  const shown = adjustment.parameters.filter((each) => isNumber(each) && holds(each, values));
  return (
    <div role="group" aria-label={`${adjustment.name} of ${pass.name}`} className="flex flex-wrap gap-x-4 gap-y-1 py-1">
      {shown.map((parameter) => (
        <span key={parameter.id} className="flex items-center gap-1.5 text-label font-medium text-ink-2">
          {parameter.name}
          <NumberField
            parameter={parameter}
            className="w-14.5"
            value={Number(values[parameter.id])}
            frame={frame}
            onCommit={(value) => onChange(side, { ...treatment, [id]: { ...treatment[id], [parameter.id]: value } } as Treatment)}
          />
        </span>
      ))}
    </div>
  );
}
