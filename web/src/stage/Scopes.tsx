/** Scopes in a strip: histogram, waveform, parade and vectorscope, of the picture or of a region, before or after. */

import { useEffect, useState } from "react";
import type { Address } from "../api/client";
import { fetchScopeUrl, type ScopeOrder } from "../api/pictures";
import { latest } from "../bench/latest";
import { useHistogram } from "../bench/measurements";
import { regionInView, useBench } from "../bench/store";
import { regionOf } from "../document/edit";
import { Choice } from "../ui/Choice";
import { Strip } from "./Strip";

const HEIGHT = 132;
/** room at both sides of the strip */
const SIDES = 46;
const KINDS = ["waveform", "parade", "vectorscope"] as const;
const OF = ["picture", "source"] as const;
type Kind = (typeof KINDS)[number];
type Of = (typeof OF)[number];

export function Scopes() {
  const region = useBench((state) => regionOf(state.sheet, regionInView(state)));
  const stage = useBench((state) => state.stage);
  const [of, setOf] = useState<Of>("picture");
  const [within, setWithin] = useState(false);
  const only = within && region ? region.id : null;
  const room = Math.max((stage?.width ?? 900) - SIDES - HEIGHT - 3 * 12, 300);
  const part = (share: number) => Math.floor(room * share);
  const widths: Readonly<Record<Kind, number>> = { waveform: part(0.3), parade: part(0.44), vectorscope: HEIGHT };
  return (
    <Strip
      label="Scopes"
      name="Scopes"
      says="the signal, 0 to 100 %; colours in the round one"
      choices={
        <>
        <Choice
          label="Before or after"
          options={OF.map((id) => ({ id, name: id === "picture" ? "after" : "before", tip: "Of the picture with the sheet, or of the source" }))}
          value={of}
          onChange={setOf}
        />
        <Choice
          label="What the scopes read"
          options={[
            { id: "whole", name: "whole picture", tip: "Counts every pixel" },
            { id: "within", name: region ? `inside ${region.name}` : "inside a region", tip: "Counts what lies inside the region alone", disabled: !region },
          ]}
          value={only === null ? "whole" : "within"}
          onChange={(id) => setWithin(id === "within")}
        />
        </>
      }
    >
      <div className="flex gap-3 pt-0.5 pb-1">
        <Levels of={of} region={only} width={part(0.26)} />
        {KINDS.map((kind) => (
          <Scope key={kind} kind={kind} of={of} region={only} width={widths[kind]} />
        ))}
      </div>
    </Strip>
  );
}

const CHANNELS = ["luma", "red", "green", "blue"] as const;

/** The histogram as lines; the highest of them fills the field, ends aside. */
function Levels({ of, region, width }: Omit<ScopeProps, "kind">) {
  const histogram = useHistogram(region, null, of);
  const most = Math.max(...CHANNELS.flatMap((each) => histogram?.[each].slice(2, -2) ?? []), 1e-6);
  const line = (values: readonly number[]) =>
    values.map((value, k) => `${((k / 255) * width).toFixed(1)} ${(HEIGHT - Math.min(value / most, 1) * (HEIGHT - 6)).toFixed(1)}`).join("L");
  return (
    <figure className="scope levels" style={{ width, height: HEIGHT }}>
      <svg width={width} height={HEIGHT} role="img" aria-label={`Histogram of the ${of}`}>
        {[0.25, 0.5, 0.75].map((share) => (
          <path key={share} d={`M${share * width} 0V${HEIGHT}`} />
        ))}
        {histogram && CHANNELS.map((each) => <path key={each} data-of={each} className={each} d={`M${line(histogram[each])}`} />)}
      </svg>
    </figure>
  );
}

type ScopeProps = { readonly kind: Kind; readonly of: Of; readonly region: string | null; readonly width: number };

function Scope({ kind, of, region, width }: ScopeProps) {
  const url = useScope(kind, of, region, width);
  return (
    <figure className={`scope ${kind}`} style={{ width, height: HEIGHT }}>
      {url && <img src={url} alt={`${kind[0]?.toUpperCase()}${kind.slice(1)} of the ${of}`} width={width} height={HEIGHT} />}
      <Graticule round={kind === "vectorscope"} width={width} />
    </figure>
  );
}

function Graticule({ round, width }: { readonly round: boolean; readonly width: number }) {
  const y = (share: number) => ((1.04 - share) / 1.08) * HEIGHT;
  const middle = HEIGHT / 2;
  return (
    <svg width={width} height={HEIGHT} aria-hidden>
      {round ? (
        <>
          <circle cx={middle} cy={middle} r={HEIGHT * 0.25} />
          <circle cx={middle} cy={middle} r={HEIGHT * 0.45} />
          <path d={`M${middle} 4V${HEIGHT - 4}M4 ${middle}H${HEIGHT - 4}`} />
        </>
      ) : (
        [0, 0.25, 0.5, 0.75, 1].map((share) => (
          <g key={share}>
            <path d={`M0 ${y(share)}H${width}`} />
            <text x="3" y={y(share) - 2 < 10 ? y(share) + 10 : y(share) - 2}>
              {share * 100}
            </text>
          </g>
        ))
      )}
    </svg>
  );
}

type Order = { readonly at: Address; readonly order: ScopeOrder };

function useScope(kind: Kind, of: Of, region: string | null, width: number): string | null {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const moving = useBench((state) => state.dragging);
  const [url, setUrl] = useState<string | null>(null);
  const [ask] = useState(() =>
    latest<Order>(async ({ at: here, order }) => {
      try {
        setUrl(await fetchScopeUrl(here, order));
      } catch {
        setUrl(null);
      }
    }),
  );
  useEffect(() => {
    if (!at || moving) return;
    ask.want({ at, order: { sheet, scope: kind, of, region, width, height: HEIGHT } });
  }, [ask, at, sheet, moving, kind, of, region, width]);
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  return url;
}
