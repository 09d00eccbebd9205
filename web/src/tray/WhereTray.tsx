/** The tray of a region: its parts in words, and the chosen part's numbers. */

import { useState } from "react";
import type { Catalogue, Parameter, Part, Pass, Region } from "../api/client";
import { beginDrawing } from "../bench/begin";
import { change } from "../bench/saving";
import { choose, useBench } from "../bench/store";
import { partEarlier, removePart, setPart, setPartValues, setPass, setRegion, type Value } from "../document/edit";
import type { Frame } from "../document/numbers";
import { Glyph } from "../marks/marks";
import { Fader } from "./Fader";
import { OPACITY } from "./parameters";
import { completeValues, kindOf } from "./values";

type Props = {
  readonly catalogue: Catalogue;
  readonly pass: Pass | undefined;
  readonly region: Region | undefined;
  readonly part: Part | undefined;
  readonly frame: Frame;
};

const JOINS = ["add", "subtract", "intersect"] as const;
const JOIN_WORD = { add: "add", subtract: "less", intersect: "within" } as const;

export function WhereTray({ catalogue, pass, region, part, frame }: Props) {
  return (
    <>
      <div className="tray-left wide">
        {pass && <WorksOn pass={pass} />}
        {region ? (
          <>
            <Parts {...{ catalogue, pass, region, part }} />
            <div className="joins">
              Join a part:
              {JOINS.map((join) => (
                <button key={join} type="button" className="word" onClick={() => beginDrawing(region.id, join)}>
                  {join}
                </button>
              ))}
            </div>
            {part && <Edge {...{ catalogue, region, part }} />}
            {part && <PartVerbs {...{ region, part }} />}
          </>
        ) : (
          <p className="say">The whole picture: everything is inside, nothing outside.</p>
        )}
      </div>
      {region && part && <PartFaders key={part.id} {...{ catalogue, region, part, frame }} />}
    </>
  );
}

function WorksOn({ pass }: { readonly pass: Pass }) {
  const regions = useBench((state) => state.sheet.regions);
  const pick = (id: string) => {
    const region = id || null;
    const sheet = useBench.getState().sheet;
    change(setPass(sheet, pass.id, { region }), `where of ${pass.name}`);
    choose({ kind: "where", pass: pass.id, region, part: null });
  };
  return (
    <label className="joins" style={{ marginTop: 0, marginBottom: 4 }}>
      {pass.name} works on
      <select className="select select-xs select-field" value={pass.region ?? ""} onChange={(event) => pick(event.currentTarget.value)}>
        <option value="">whole picture</option>
        {regions.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </select>
    </label>
  );
}

type PartsProps = Omit<Props, "frame"> & { readonly region: Region };

function Parts({ catalogue, pass, region, part }: PartsProps) {
  const [renaming, setRenaming] = useState<string | null>(null);
  const rename = () => {
    const name = renaming?.trim().slice(0, 60);
    setRenaming(null);
    if (name && name !== region.name) change(setRegion(useBench.getState().sheet, region.id, { name }), "rename a region");
  };
  return (
    <p className="parts">
      {renaming === null ? (
        <button type="button" className="what" title="Rename" onClick={() => setRenaming(region.name)}>
          {region.name.charAt(0).toUpperCase() + region.name.slice(1)}
        </button>
      ) : (
        <input
          className="input input-sm text-field"
          aria-label="Name of the region"
          value={renaming}
          ref={(field) => field?.focus()}
          onChange={(event) => setRenaming(event.currentTarget.value)}
          onBlur={rename}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") rename();
            if (event.key === "Escape") setRenaming(null);
          }}
        />
      )}
      {": "}
      {region.parts.map((each, index) => (
        <span key={each.id}>
          {index > 0 || each.join !== "add" ? <JoinWord region={region} part={each} first={index === 0} /> : ""}
          <button
            type="button"
            className={["where", each.id === part?.id && "part", !each.on && "off"].filter(Boolean).join(" ")}
            onClick={() => choose({ kind: "where", pass: pass?.id ?? null, region: region.id, part: each.id })}
          >
            <Glyph name={kindOf(catalogue, each.kind)?.glyph ?? "all"} />
            <span>
              {each.complement ? "all but the " : ""}
              {kindOf(catalogue, each.kind)?.name.toLowerCase()}
            </span>
          </button>
          {index === region.parts.length - 1 ? "." : ","}
        </span>
      ))}
      {region.parts.length === 0 ? "nothing yet." : ""}
    </p>
  );
}

/** How a part joins what stands before it; a press goes on to the next way. */
function JoinWord({ region, part, first }: { readonly region: Region; readonly part: Part; readonly first: boolean }) {
  const ways = first ? (["add", "subtract"] as const) : JOINS;
  const next = ways[(ways.findIndex((each) => each === part.join) + 1) % ways.length] ?? "add";
  return (
    <>
      {" "}
      <button
        type="button"
        className="what"
        title={`Make it: ${JOIN_WORD[next]}`}
        aria-label={`${JOIN_WORD[part.join]}; make it ${JOIN_WORD[next]}`}
        onClick={() => change(setPart(useBench.getState().sheet, region.id, part.id, { join: next }), `${next} the part`)}
      >
        {JOIN_WORD[part.join]}
      </button>{" "}
    </>
  );
}

/** The choices of a part, as words in a row. */
function Edge({ catalogue, region, part }: { readonly catalogue: Catalogue; readonly region: Region; readonly part: Part }) {
  const choices = kindOf(catalogue, part.kind)?.parameters.filter((parameter) => parameter.kind === "choice") ?? [];
  const set = (id: string, value: string, label: string) =>
    change(setPartValues(useBench.getState().sheet, region.id, part.id, { [id]: value }), label);
  return choices.map((parameter) => (
    <div key={parameter.id} className="joins" role="radiogroup" aria-label={parameter.name}>
      {parameter.name}:
      {parameter.options?.map((option) => (
        <button
          key={option.id}
          type="button"
          role="radio"
          className="word"
          aria-checked={(part.values?.[parameter.id] ?? parameter.neutral) === option.id}
          onClick={() => set(parameter.id, option.id, parameter.name.toLowerCase())}
        >
          {option.name}
        </button>
      ))}
    </div>
  ));
}

function PartVerbs({ region, part }: { readonly region: Region; readonly part: Part }) {
  const set = (fields: Partial<Part>, label: string) =>
    change(setPart(useBench.getState().sheet, region.id, part.id, fields), label);
  const remove = () => {
    choose({ kind: "where", pass: passOf(), region: region.id, part: null });
    change(removePart(useBench.getState().sheet, region.id, part.id), "remove a part");
  };
  const at = region.parts.findIndex((each) => each.id === part.id);
  const earlier = () => change(partEarlier(useBench.getState().sheet, region.id, part.id), "order of parts");
  return (
    <div className="joins">
      <button
        type="button"
        className="word"
        title="Takes everything but the part itself"
        aria-pressed={part.complement}
        onClick={() => set({ complement: !part.complement }, "all but")}
      >
        all but it
      </button>
      <button type="button" className="word" aria-pressed={!part.on} onClick={() => set({ on: !part.on }, part.on ? "part off" : "part on")}>
        off
      </button>
      {at > 0 && (
        <button type="button" className="word" title="One place earlier among the parts" onClick={earlier}>
          earlier
        </button>
      )}
      {region.parts.length > 1 && (
        <button type="button" className="word" onClick={remove}>
          remove
        </button>
      )}
    </div>
  );
}

function passOf(): string | null {
  const { choice } = useBench.getState();
  return choice.kind === "nothing" ? null : choice.pass;
}

/** Whether a parameter means anything beside these values. */
function holds(parameter: Parameter, values: Readonly<Record<string, Value>>): boolean {
  const [choice, option] = parameter.needs;
  return choice === undefined || values[choice] === option;
}

/** Faders in the order of the declaration, with a rule where the kind of number changes. */
const RULE_BEFORE = new Set(["width", "feather_in"]);
/** From so many on they take the whole width of the tray. */
const MANY = 8;

type FadersProps = {
  readonly catalogue: Catalogue;
  readonly region: Region;
  readonly part: Part;
  readonly frame: Frame;
};

function PartFaders({ catalogue, region, part, frame }: FadersProps) {
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
    <div className={`faders spread${faders.length < MANY ? " few" : ""}`}>
      {faders.flatMap((parameter, index) => [
        index > 0 && RULE_BEFORE.has(parameter.id) && (
          <span key={`rule-${parameter.id}`} className="rule" style={{ margin: "0 2px 12px" }} />
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
    </div>
  );
}
