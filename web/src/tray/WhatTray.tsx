/** The tray of a treatment: side, groups, and the faders of the open group, or the wide control of what is in hand. */

import { TabPanel, Tabs } from "react-aria-components";
import type { Adjustment, Catalogue, Pass } from "../api/client";
import { change } from "../bench/saving";
import { select, useBench } from "../bench/store";
import { setPass, type Side, treatmentOf } from "../document/edit";
import type { Frame } from "../document/numbers";
import { SideGlyph } from "../icons/icons";
import { AdjustmentFaders } from "./AdjustmentFaders";
import { Balance } from "./Balance";
import { Choice } from "../ui/Choice";
import { TabWords } from "../ui/Tabs";
import { Fader } from "./Fader";
import { MIX, STRENGTH } from "./parameters";
import { MustCover } from "./MustCover";
import { SoftenEdge } from "./SoftenEdge";
import { inGroup, says } from "./values";
import { WideControl } from "./WideControl";
import { FADERS } from "./Faders";
import { TrayLeft } from "./TrayLeft";

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
  const inHand = adjustments.find((each) => each.id === adjustment);
  const of = { pass, side, frame, group };
  return (
    <Tabs
      className="contents"
      selectedKey={group}
      onSelectionChange={(key) => select({ kind: "what", pass: pass.id, side, group: String(key), adjustment: "" })}
    >
      <TrayLeft>
        <Sides {...props} />
        <Groups {...props} />
      </TrayLeft>
      <TabPanel key={group} id={group} className={FADERS}>
        {inHand?.wide ? (
          <WideControl key={inHand.id} {...of} adjustment={inHand} />
        ) : (
          <>
            {adjustments
              .filter((each) => !each.wide)
              .map((each, index) => (
                <AdjustmentFaders
                  key={each.id}
                  {...of}
                  adjustment={each}
                  active={adjustment ? each.id === adjustment : index === 0}
                  open={each.id === adjustment}
                />
              ))}
            <WideWords {...props} adjustments={adjustments.filter((each) => each.wide)} />
          </>
        )}
        {group === "Colour" && !inHand?.wide && <Balance />}
        {group === "Blur" && <SoftenEdge {...{ catalogue, pass, side }} />}
        {group === "Cover" && <MustCover {...{ catalogue, pass }} />}
        <span className="w-px bg-line mt-0 mx-1.5 mb-3 flex-none ml-auto" />
        <HowMuch {...{ pass, adjustment, frame }} />
      </TabPanel>
    </Tabs>
  );
}

function HowMuch({ pass, adjustment, frame }: Pick<Props, "pass" | "adjustment" | "frame">) {
  const set = (id: "strength" | "mix") => (value: number, end: boolean) =>
    change(setPass(useBench.getState().sheet, pass.id, { [id]: value }), `${id} of ${pass.name}`, end);
  return [STRENGTH, MIX].map((parameter) => {
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
  });
}

type WordsProps = Props & { readonly adjustments: readonly Adjustment[] };

const LONG = 18;

/** One with a long name goes by the short one of its amount. */
function nameOf({ name, parameters }: Adjustment): string {
  return name.length > LONG ? (parameters[0]?.name ?? name) : name;
}

/** A lozenge before what holds values. */
const HOLDS = "text-ink before:absolute before:top-2.5 before:left-px before:size-[5px] before:rotate-45 before:bg-ink";

/** Adjustments that need the whole tray, as words that open them. */
function WideWords({ adjustments, pass, side, group }: WordsProps) {
  if (adjustments.length === 0) return null;
  const treatment = treatmentOf(pass, side);
  return (
    <div className="flex flex-none flex-col pr-0.5 pl-1" role="group" aria-label="More of this group">
      {adjustments.map((each) => (
        <button
          key={each.id}
          type="button"
          className={`relative h-6 pl-3 text-left font-medium whitespace-nowrap hover:text-ink ${says(each, treatment[each.id]) ? HOLDS : "text-ink-2"}`}
          title={each.says}
          onClick={() => select({ kind: "what", pass: pass.id, side, group, adjustment: each.id })}
        >
          <span>{nameOf(each)}…</span>
        </button>
      ))}
    </div>
  );
}

function Sides({ pass, side, group }: Props) {
  const pick = (next: Side) => select({ kind: "what", pass: pass.id, side: next, group, adjustment: "" });
  return (
    <Choice
      label="Side of the region"
      look="segments"
      value={side}
      onChange={pick}
      options={[
        { id: "inside", name: <SideName inside /> },
        {
          id: "outside",
          name: <SideName inside={false} />,
          disabled: !pass.region,
          tip: pass.region ? undefined : "The whole picture has no outside",
        },
      ]}
    />
  );
}

function SideName({ inside }: { readonly inside: boolean }) {
  return (
    <>
      <SideGlyph inside={inside} />
      {inside ? "Inside" : "Outside"}
    </>
  );
}

function Groups({ catalogue, pass, side }: Props) {
  const treatment = treatmentOf(pass, side);
  const holds = (group: string) => inGroup(catalogue, group).some((each) => says(each, treatment[each.id]));
  const tabs = catalogue.groups.map((each) => ({ id: each, name: each, holds: holds(each) }));
  return <TabWords label="Groups of adjustments" tabs={tabs} className="mt-2.5 grid grid-cols-2" />;
}
