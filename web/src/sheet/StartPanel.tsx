/** Starting a pass: starters and single adjustments, found by purpose, shown on this very picture. */

import { type FocusEvent, useEffect, useRef, useState } from "react";
import { type Sheet, type Adjustment, api, asked, type Catalogue, type Shot, type Starter } from "../api/client";
import { fetchPreviewUrl, PLAIN_VIEW } from "../api/pictures";
import { beginAdjustment, beginStarter, withStarter } from "../bench/begin";
import { type BenchState, useBench } from "../bench/store";
import { useLatest } from "../bench/useLatest";
import { passesUsing } from "../document/edit";
import { Button } from "../ui/Button";
import { Glyph, Lens, WHOLE } from "../icons/icons";
import { kindOf } from "../tray/values";
import { Looks } from "./Looks";
import { Choice } from "../ui/Choice";
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

const foundFor = (query: string): Promise<Found> => asked(api.GET("/api/find", { params: { query: { q: query } } }));

function useFound(query: string): Found | null {
  const [found, setFound] = useState<Found | null>(null);
  useEffect(() => {
    let old = false;
    foundFor(query)
      .then((answer) => !old && setFound(answer))
      .catch(() => undefined);
    return () => {
      old = true;
    };
  }, [query]);
  return found;
}

const KEY =
  "min-w-4.5 flex-none rounded-token px-1.25 text-center text-note font-medium whitespace-nowrap text-ink-3 shadow-[inset_0_0_0_1px_var(--color-line)]";
// while one rests on a starter the stage shows it, and only that starter stays
const PANEL =
  "group/panel absolute inset-0 z-6 flex animate-arrive flex-col overflow-y-auto bg-lift px-8 pt-5 data-peeking:overflow-hidden data-peeking:bg-transparent data-peeking:[&>:not([data-starters])]:opacity-0 [&>h2]:mt-5 [&>h2]:mb-3 [&>h2]:font-semibold";
const STARTER =
  "-m-2 grid grid-cols-[196px_1fr] items-start gap-4 rounded-[4px] p-2 text-left hover:bg-token data-[first=true]:shadow-[inset_0_0_0_1.5px_var(--color-mark-line)] group-data-peeking/panel:data-[resting=false]:opacity-0 group-data-peeking/panel:data-[resting=true]:bg-sheet";

export function StartPanel({ shot, catalogue }: Props) {
  const [query, setQuery] = useState("");
  const [region, setRegion] = useState(() => spareInHand(useBench.getState()));
  const found = useFound(query);
  const peeking = useBench((state) => state.peek !== null);
  const starters = inOrder(catalogue.starters, found?.starters);
  const others = catalogue.starters.filter((starter) => found && !found.starters.includes(starter.id));
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
    const fits = await foundFor(query).catch(() => null);
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
  const none = found !== null && starters.length === 0 && singles.length === 0;
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

type StartersProps = {
  readonly list: readonly Starter[];
  readonly shot: Shot;
  readonly region: string | null;
  readonly marked: boolean;
  readonly onStart: (id: string) => void;
};

function Starters({ list, shot, region, marked, onStart }: StartersProps) {
  const { resting, rest, leave } = usePeek(region);
  const before = useSmall(shot, "before", async () => useBench.getState().sheet);
  return (
    <div data-starters className="grid grid-cols-2 gap-x-6 gap-y-4">
      {list.map((starter, index) => (
        <button
          key={starter.id}
          type="button"
          className={STARTER}
          data-first={marked && index === 0}
          data-starter={starter.id}
          data-resting={resting === starter.id}
          onClick={() => onStart(starter.id)}
          onPointerEnter={() => rest(starter.id)}
          onPointerLeave={leave}
          onFocus={(event: FocusEvent<HTMLElement>) => event.currentTarget.matches(":focus-visible") && rest(starter.id)}
          onBlur={leave}
        >
          <Pair {...{ starter, shot, region, before }} />
          <span>
            <b className="mb-px block font-book text-[16px] leading-5 font-medium">{starter.name}</b>
            <small className="block font-book text-[13px] leading-4.5 font-normal">{starter.says}</small>
          </span>
        </button>
      ))}
    </div>
  );
}

/** So long a pointer, or the focus, rests on a starter before the stage shows what it would make. */
const REST_MS = 700;

/** Shows a starter on the stage, full size, while one rests on it. */
function usePeek(region: string | null) {
  const [resting, setResting] = useState("");
  const wanted = useRef("");
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const leave = () => {
    clearTimeout(timer.current);
    wanted.current = "";
    setResting("");
    useBench.setState({ peek: null });
  };
  const rest = (id: string) => {
    leave();
    wanted.current = id;
    timer.current = setTimeout(() => {
      withStarter(id, region)
        .then((peek) => {
          if (wanted.current !== id || !useBench.getState().starting) return;
          setResting(id);
          useBench.setState({ peek });
        })
        .catch(() => undefined);
    }, REST_MS);
  };
  useEffect(() => () => clearTimeout(timer.current), []);
  return { resting, rest, leave };
}

const PAIR_WIDTH = 200;

/** A small picture of a draft of this shot, as an address; made again when `key` changes, and never while it is null. */
function useSmall(shot: Shot, key: string | null, sheet: () => Promise<Sheet | null>): string | null {
  const at = useBench((state) => state.at);
  const made = useLatest(sheet);
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    if (!at || key === null) return;
    let gone = false;
    const load = async () => {
      const draft = await made.current();
      if (!draft || gone) return;
      const rectangle: [number, number, number, number] = [0, 0, shot.width, shot.height];
      const scale = Math.min(PAIR_WIDTH / shot.width, 1);
      // so small, a coarse edge is as good
      const order = { ...PLAIN_VIEW, sheet: draft, view: "picture", rectangle, scale, coarse: true, format: "jpeg" } as const;
      const address = await fetchPreviewUrl(at, order);
      if (gone) URL.revokeObjectURL(address);
      else setUrl(address);
    };
    load().catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [at, key, made, shot]);
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  return url;
}

type PairProps = { readonly starter: Starter; readonly shot: Shot; readonly region: string | null; readonly before: string | null };

/** This shot before and after the starter, rendered as anything else is; all share the one before. */
function Pair({ starter, shot, region, before }: PairProps) {
  const after = useSmall(shot, before && `${starter.id} ${region}`, () => withStarter(starter.id, region));
  return <span className="grid aspect-[3/1] grid-cols-2 gap-0.5 [&>img]:size-full [&>img]:bg-field [&>img]:object-cover" data-pair>{before && after ? [before, after].map((url) => <img key={url} src={url} alt="" />) : [<i key="a" />, <i key="b" />]}</span>;
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
