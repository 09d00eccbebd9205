/** A region in words: its name, its parts, and how they join. */

import { useState } from "react";
import type { Catalogue, Part, Pass, Region } from "../api/client";
import { change } from "../bench/saving";
import { select, useBench } from "../bench/store";
import { regionOf, setPart, setRegion } from "../document/edit";
import { Glyph, WHOLE } from "../icons/icons";
import { kindOf } from "./values";
import { Field } from "../ui/Field";

const JOINS = ["add", "subtract", "intersect"] as const;
const JOIN_WORD = { add: "add", subtract: "less", intersect: "within" } as const;

type Props = {
  readonly catalogue: Catalogue;
  readonly pass: Pass | undefined;
  readonly region: Region;
  readonly part: Part | undefined;
};

export function Parts({ catalogue, pass, region, part }: Props) {
  const [renaming, setRenaming] = useState<string | null>(null);
  const rename = () => {
    const name = renaming?.trim().slice(0, 60);
    setRenaming(null);
    if (name && name !== region.name) change(setRegion(useBench.getState().sheet, region.id, { name }), "rename a region");
  };
  return (
    <p className="mb-0.75 font-book text-small font-normal leading-5.5">
      {renaming === null ? (
        <button type="button" className="what" title="Rename" onClick={() => setRenaming(region.name)}>
          {region.name.charAt(0).toUpperCase() + region.name.slice(1)}
        </button>
      ) : (
        <Field
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
            className={`where${each.id === part?.id ? " part" : ""}${each.on ? "" : " text-ink-3 line-through"}`}
            onClick={() => select({ kind: "where", pass: pass?.id ?? null, region: region.id, part: each.id })}
          >
            <Glyph path={kindOf(catalogue, each.kind)?.glyph ?? WHOLE} />
            <span>
              {each.complement ? "everywhere but the " : ""}
              {nameOf(catalogue, each)}
            </span>
          </button>
          <Told region={region.id} part={each.id} />
          {index === region.parts.length - 1 ? "." : ","}
        </span>
      ))}
      {region.parts.length === 0 ? "nothing yet." : ""}
    </p>
  );
}

/** What a part lets through, in a few words, where there is something to say. */
function Told({ region, part }: { readonly region: string; readonly part: string }) {
  const says = useBench((state) => state.parts.find((each) => each.region === region && each.part === part)?.says);
  return says ? <span data-told className="text-ink-2"> {says}</span> : null;
}

/** What a part is called: its kind, or the region that it stands for. */
function nameOf(catalogue: Catalogue, part: Part): string {
  const named = regionOf(useBench.getState().sheet, String(part.values?.region ?? ""))?.name;
  return named ? `“${named}”` : (kindOf(catalogue, part.kind)?.name.toLowerCase() ?? "");
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
