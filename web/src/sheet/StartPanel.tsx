/** Starting a pass: starters and single adjustments, found by purpose, shown on this very picture. */

import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type Adjustment, api, asked, type Catalogue, type Shot } from "../api/client";
import { beginAdjustment, beginStarter } from "../bench/begin";
import { type BenchState, useBench } from "../bench/store";
import { passesUsing } from "../document/edit";
import { Button } from "../ui/Button";
import { Glyph, Lens, WHOLE } from "../icons/icons";
import { kindOf } from "../tray/values";
import { Looks } from "./Looks";
import { Choice } from "../ui/Choice";
import { Starters } from "./Starters";
import { Say } from "../ui/Words";

type Props = { readonly shot: Shot; readonly catalogue: Catalogue };
type Found = {
  readonly starters: readonly string[];
  readonly adjustments: readonly string[];
  readonly read_as: string;
  readonly first: "starter" | "adjustment";
};

/** The starter that does nothing yet: no picture tells of it. */
const EMPTY = "empty";

const close = () => useBench.setState({ starting: false, peek: null });

/** The region in hand, if no pass works on it yet: it was drawn to be worked on. */
function spareInHand({ selection: choice, sheet }: BenchState): string | null {
  const region = choice.kind === "where" ? choice.region : null;
  return region && passesUsing(sheet, region).length === 0 ? region : null;
}

const missed = (error: Error) => {
  useBench.setState({ problem: error.message });
};

const foundFor = (query: string): Promise<Found> => asked(api.GET("/api/find", { params: { query: { q: query } } }));

const finding = (query: string) => ({ queryKey: ["find", query], queryFn: () => foundFor(query), staleTime: Number.POSITIVE_INFINITY });

function useFound(query: string) {
  return useQuery({ ...finding(query), placeholderData: keepPreviousData });
}

const KEY =
  "min-w-4.5 flex-none rounded-token px-1.25 text-center text-note font-medium whitespace-nowrap text-ink-3 shadow-[inset_0_0_0_1px_var(--color-line)]";
// while one rests on a starter the stage shows it, and only that starter stays
const PANEL =
  "group/panel absolute inset-0 z-6 flex animate-arrive flex-col overflow-y-auto bg-lift px-8 pt-5 data-peeking:overflow-hidden data-peeking:bg-transparent data-peeking:[&>:not([data-starters])]:opacity-0 [&>h2]:mt-5 [&>h2]:mb-3 [&>h2]:font-semibold";

export function StartPanel({ shot, catalogue }: Props) {
  const [query, setQuery] = useState("");
  const [region, setRegion] = useState(() => spareInHand(useBench.getState()));
  const client = useQueryClient();
  const { data: found, error } = useFound(query);
  const peeking = useBench((state) => state.peek !== null);
  const starters = inOrder(catalogue.starters, found?.starters);
  const others = catalogue.starters.filter((starter) => found && !starter.asked && !found.starters.includes(starter.id));
  const singles = inOrder(catalogue.adjustments, found?.adjustments);
  const start = (id: string) => {
    close();
    void beginStarter(id, region);
  };
  const single = (each: Adjustment) => {
    close();
    void beginAdjustment(each, region);
  };
  // a quick hand presses Enter before the answer to its last letters is there: it gets what fits all of them
  const enter = async () => {
    const fits = await client.fetchQuery(finding(query)).catch(missed);
    if (!fits || !useBench.getState().starting) return;
    const [starter] = inOrder(catalogue.starters, fits.starters);
    const alone = catalogue.adjustments.find((each) => each.id === fits.adjustments[0]);
    if (alone && (fits.first === "adjustment" || !starter)) single(alone);
    else if (starter) start(starter.id);
  };
  useEffect(() => () => useBench.setState({ peek: null }), []);
  const alike = (
    <>
      {singles.length > 0 && <h2>{query ? "Single adjustments that fit" : "Single adjustments"}</h2>}
      <div data-singles className="flex flex-wrap gap-y-1.5 gap-x-4.5 font-book text-small font-normal">
        {singles.map((each, index) => (
          <button
            key={each.id}
            type="button"
            className="what"
            data-first={query !== "" && found?.first === "adjustment" && index === 0}
            title={`${each.says} Put ${region ? each.side : each.of_a_region ? "round an ellipse" : "on the whole picture"}.`}
            onClick={() => single(each)}
          >
            {each.name}
          </button>
        ))}
      </div>
    </>
  );
  const shown = starters.filter((each) => each.id !== EMPTY);
  const none = found !== undefined && starters.length === 0 && singles.length === 0;
  return (
    <section className={PANEL} data-peeking={peeking ? "" : undefined} aria-label="Start a pass">
      <div className="flex h-12 flex-none items-center gap-3 rounded-[4px] bg-field px-4 text-ink-3 shadow-[inset_0_0_0_1.5px_var(--color-mark-line)]">
        <Lens />
        <input
          ref={(field) => field?.focus()}
          className="min-w-0 flex-1 bg-transparent font-book text-[20px] leading-7 font-normal text-ink outline-none"
          aria-label="Search by purpose"
          placeholder="What for? Darken corners, soften skin…"
          value={query}
          onChange={(event) => setQuery(event.currentTarget.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") void enter();
            if (event.key === "Escape") close();
          }}
        />
        {found?.read_as && (
          <span className="whitespace-nowrap [&>b]:font-semibold [&>b]:text-ink">
            read as <b>{found.read_as}</b>
          </span>
        )}
        <button type="button" className={KEY} onClick={close}>
          Esc
        </button>
      </div>
      <StartsOn {...{ catalogue, region }} onPick={setRegion} onEmpty={() => start(EMPTY)} />
      {error && (
        <Say look="sheet" role="alert">
          {error.message}
        </Say>
      )}
      {none && <Say look="sheet">Nothing fits “{query}”.</Say>}
      {query && found?.first === "adjustment" && alike}
      {query && shown.length > 0 && <h2>What fits</h2>}
      <Starters list={shown} {...{ shot, region }} marked={query !== "" && found?.first === "starter"} onStart={start} />
      {!(query && found?.first === "adjustment") && alike}
      <Looks query={query} />
      {query && others.length > 0 && <h2>The other starters</h2>}
      {query && <Starters list={others} {...{ shot, region }} marked={false} onStart={start} />}
    </section>
  );
}

function inOrder<Item extends { readonly id: string }>(all: readonly Item[], ids: readonly string[] = []): readonly Item[] {
  return ids.flatMap((id) => all.find((each) => each.id === id) ?? []);
}

type OnProps = {
  readonly catalogue: Catalogue;
  readonly region: string | null;
  readonly onPick: (region: string | null) => void;
  readonly onEmpty: () => void;
};

const ON =
  "where text-ink data-selected:rounded-token data-selected:font-semibold data-selected:shadow-[inset_0_0_0_1.5px_var(--color-mark-line)]";
/** no id of a region begins so */
const OWN = "/own";

function Named({ glyph, name }: { readonly glyph: string; readonly name: string }) {
  return (
    <>
      <Glyph path={glyph} />
      <span>{name}</span>
    </>
  );
}

/** On what it starts: the region in hand, any other of the shelf, or one of its own. */
function StartsOn({ catalogue, region, onPick, onEmpty }: OnProps) {
  const regions = useBench((state) => state.sheet.regions);
  return (
    <div className="mt-3 mb-4 flex items-baseline gap-3 text-[13px] leading-5 text-ink-2">
      <Choice
        label="Where it starts"
        look="plain"
        className="flex flex-wrap items-baseline gap-x-3 gap-y-1"
        itemClass={ON}
        lead={<span>Starts on</span>}
        value={region ?? OWN}
        onChange={(id) => onPick(id === OWN ? null : id)}
        options={[
          { id: OWN, name: <Named glyph={kindOf(catalogue, "ellipse")?.glyph ?? WHOLE} name="its own region" /> },
          ...regions.map((each) => ({
            id: each.id,
            name: <Named glyph={kindOf(catalogue, each.parts?.[0]?.kind ?? "whole")?.glyph ?? WHOLE} name={each.name} />,
          })),
        ]}
      />
    <span className="ml-auto flex-none" data-starter={EMPTY}>
      <Button onClick={onEmpty}>an empty pass</Button>
    </span>
    </div>
  );
}
