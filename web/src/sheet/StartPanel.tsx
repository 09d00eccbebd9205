/** Starting a pass: starters and single adjustments, found by purpose, shown on this very picture. */

import { useEffect, useState } from "react";
import { api, asked, type Catalogue, fetchPreviewUrl, PLAIN_VIEW, type Shot, type Starter } from "../api/client";
import { beginAdjustment, beginStarter } from "../bench/begin";
import { useBench } from "../bench/store";
import { Glyph, Lens } from "../marks/marks";
import { kindOf } from "../tray/values";
import { Looks } from "./Looks";

type Props = { readonly shot: Shot; readonly catalogue: Catalogue };
type Found = { readonly starters: readonly string[]; readonly adjustments: readonly string[]; readonly read_as: string };

const close = () => useBench.setState({ starting: false });

function useFound(query: string): Found | null {
  const [found, setFound] = useState<Found | null>(null);
  useEffect(() => {
    let old = false;
    asked(api.GET("/api/find", { params: { query: { q: query } } }))
      .then((answer) => !old && setFound(answer))
      .catch(() => undefined);
    return () => {
      old = true;
    };
  }, [query]);
  return found;
}

export function StartPanel({ shot, catalogue }: Props) {
  const [query, setQuery] = useState("");
  const [region, setRegion] = useState<string | null>(null);
  const found = useFound(query);
  const starters = catalogue.starters.filter((starter) => found?.starters.includes(starter.id));
  const others = catalogue.starters.filter((starter) => found && !found.starters.includes(starter.id));
  const singles = catalogue.adjustments.filter((each) => found?.adjustments.includes(each.id));
  const start = (id: string) => {
    close();
    void beginStarter(id, region);
  };
  const single = (id: string, group: string) => {
    close();
    void beginAdjustment(id, "outside", region, group);
  };
  const enter = () => {
    const first = starters[0];
    const only = singles[0];
    if (first) start(first.id);
    else if (only) single(only.id, only.group);
  };
  const none = found !== null && starters.length === 0 && singles.length === 0;
  return (
    <section className="panel" aria-label="Start a pass">
      <div className="search">
        <Lens />
        <input
          ref={(field) => field?.focus()}
          aria-label="Search by purpose"
          placeholder="What for? Darken corners, soften the background…"
          value={query}
          onChange={(event) => setQuery(event.currentTarget.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") enter();
            if (event.key === "Escape") close();
          }}
        />
        {found?.read_as && (
          <span className="read">
            read as <b>{found.read_as}</b>
          </span>
        )}
        <button type="button" className="key" onClick={close}>
          Esc
        </button>
      </div>
      {none && <p className="quiet">Nothing fits “{query}”.</p>}
      {starters.length > 0 && <h2>{query ? "What fits" : "Starters"}</h2>}
      <Starters list={starters} shot={shot} marked={query !== ""} onStart={start} />
      {singles.length > 0 && <h2>{query ? "Single adjustments that fit" : "Single adjustments"}</h2>}
      <div className="singles">
        {singles.map((each) => (
          <button
            key={each.id}
            type="button"
            className="what"
            title={`${each.says} Put ${region ? "outside" : each.of_a_region ? "round an ellipse" : "on the whole picture"}.`}
            onClick={() => single(each.id, each.group)}
          >
            {each.name}
          </button>
        ))}
      </div>
      <Looks query={query} />
      {query && others.length > 0 && <h2>The other starters</h2>}
      {query && <Starters list={others} shot={shot} marked={false} onStart={start} />}
      <StartsOn {...{ catalogue, region }} onPick={setRegion} />
    </section>
  );
}

type StartersProps = {
  readonly list: readonly Starter[];
  readonly shot: Shot;
  readonly marked: boolean;
  readonly onStart: (id: string) => void;
};

function Starters({ list, shot, marked, onStart }: StartersProps) {
  return (
    <div className="starters">
      {list.map((starter, index) => (
        <button
          key={starter.id}
          type="button"
          className="starter"
          data-first={marked && index === 0}
          data-starter={starter.id}
          onClick={() => onStart(starter.id)}
        >
          <Pair starter={starter} shot={shot} />
          <span>
            <b>{starter.name}</b>
            <small>{starter.says}</small>
          </span>
        </button>
      ))}
    </div>
  );
}

const PAIR_WIDTH = 200;

/** This shot before and after the starter, rendered as anything else is. */
function Pair({ starter, shot }: { readonly starter: Starter; readonly shot: Shot }) {
  const at = useBench((state) => state.at);
  const [urls, setUrls] = useState<readonly string[]>([]);
  useEffect(() => {
    if (!at) return;
    let gone = false;
    const made: string[] = [];
    const picture = async (sheet: unknown) => {
      const order = {
        sheet: sheet as never,
        view: "picture" as const,
        rectangle: [0, 0, shot.width, shot.height] as [number, number, number, number],
        scale: Math.min(PAIR_WIDTH / shot.width, 1),
        ...PLAIN_VIEW,
        // so small, a coarse edge is as good
        coarse: true,
        format: "jpeg" as const,
      };
      const url = await fetchPreviewUrl(at, order);
      made.push(url);
      return url;
    };
    const load = async () => {
      const sheet = useBench.getState().sheet;
      const body = { sheet: sheet as never, what: "starter" as const, id: starter.id, side: "inside" as const, join: "add" as const, freehand: false };
      const started = await asked(
        api.POST("/api/projects/{project}/shots/{shot}/start", { params: { path: { ...at } }, body }),
      );
      const both = [await picture(sheet), await picture(started.sheet)];
      if (gone) for (const url of made) URL.revokeObjectURL(url);
      else setUrls(both);
    };
    load().catch(() => undefined);
    return () => {
      gone = true;
      for (const url of made) URL.revokeObjectURL(url);
    };
  }, [at, starter, shot]);
  return (
    <span className="pair">
      {urls.length === 2 ? urls.map((url) => <img key={url} src={url} alt="" />) : [<i key="a" />, <i key="b" />]}
    </span>
  );
}

type OnProps = { readonly catalogue: Catalogue; readonly region: string | null; readonly onPick: (region: string | null) => void };

function StartsOn({ catalogue, region, onPick }: OnProps) {
  const regions = useBench((state) => state.sheet.regions);
  return (
    <div className="starts-on" role="radiogroup" aria-label="Where it starts">
      <span>Starts on</span>
      <button type="button" role="radio" aria-checked={region === null} className="where" onClick={() => onPick(null)}>
        <Glyph name="oval" />
        <span>its own region</span>
      </button>
      {regions.length > 0 && <span>or on a region from the shelf:</span>}
      {regions.map((each) => (
        <button
          key={each.id}
          type="button"
          role="radio"
          aria-checked={region === each.id}
          className="where"
          onClick={() => onPick(each.id)}
        >
          <Glyph name={kindOf(catalogue, each.parts?.[0]?.kind ?? "whole")?.glyph ?? "all"} />
          <span>{each.name}</span>
        </button>
      ))}
    </div>
  );
}
