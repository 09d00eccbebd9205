/** Readings under the picture: small, and always true. */

import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { type Address, type Sheet, api, asked, type Shot } from "../api/client";
import { DRAFT, onDraft } from "../api/draft";
import { latest } from "../bench/latest";
import { useMeter } from "../bench/measurements";
import { solving } from "../bench/sampling";
import { usePointer } from "../bench/pointer";
import { type Ground, type LatticeLook, OF_A_REGION, passInHand, pointOut, regionInView, useBench } from "../bench/store";
import { change } from "../bench/saving";
import { regionOf, setRefine } from "../document/edit";
import { Button } from "../ui/Button";
import { fitted, type Point } from "../document/zoom";
import { Choice } from "../ui/Choice";

const SAVING = {
  saved: "Saved",
  saving: "Saving…",
  offline: "Not saved: the server does not answer",
  stale: "Not saved: changed elsewhere",
  refused: "Not saved",
} as const;

function useMatteAt(point: Point | null): number | null {
  const [value, setValue] = useState<number | null>(null);
  const region = useBench(regionInView);
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const moving = useBench((state) => state.dragging);
  const [ask] = useState(() =>
    latest<{ at: Address; sheet: Sheet; query: { region: string; x: number; y: number } }>(async (order) => {
      const { query } = order;
      try {
        const answer = await onDraft(order.at, order.sheet, (path) =>
          asked(api.GET(`${DRAFT}/matte-value`, { params: { path, query } })),
        );
        setValue(answer.value);
      } catch {
        setValue(null);
      }
    }),
  );
  // while a value moves the picture goes first
  const wanted = point !== null && region !== null && at !== null && !moving;
  useEffect(() => {
    if (point && region && at && !moving) ask.want({ at, sheet, query: { region, ...point } });
  }, [ask, point, region, at, sheet, moving]);
  return wanted ? value : null;
}

const GROUNDS: readonly Ground[] = ["grey", "black", "white", "checker"];

function Grounds() {
  const ground = useBench((state) => state.ground);
  return (
    <Choice
      label="Ground of the cutout"
      lead="On"
      options={GROUNDS.map((id) => ({ id, name: id }))}
      value={ground}
      onChange={(id) => useBench.setState({ ground: id })}
    />
  );
}

const THREADS = ["auto", "light", "dark", "lichen"] as const;
const DENSITIES = ["open", "even", "dense"] as const;
const SIDES = ["outside", "inside"] as const;

/** How the lattice looks: its thread, how dense it is, on which side it lies. */
function Threads() {
  const look = useBench((state) => state.lattice);
  const set = (fields: Partial<LatticeLook>) => useBench.setState({ lattice: { ...look, ...fields } });
  return (
    <span className="flex items-baseline gap-2.5">
      <Choice
        label="Lines of the lattice"
        lead="Lines"
        options={THREADS.map((id) => ({ id, name: id }))}
        value={look.thread}
        onChange={(thread) => set({ thread })}
      />
      <Choice
        label="Mesh of the lattice"
        lead="mesh"
        options={DENSITIES.map((id) => ({ id, name: id }))}
        value={look.density}
        onChange={(density) => set({ density })}
      />
      <Choice
        label="Side of the lattice"
        lead="drawn"
        options={SIDES.map((id) => ({ id, name: id }))}
        value={look.inside ? "inside" : "outside"}
        onChange={(id) => set({ inside: id === "inside" })}
      />
    </span>
  );
}

/** How much the pass or the adjustment in hand changes, and what else is worth knowing of it. */
function Meter() {
  const { answer: meter, failed, stale } = useMeter();
  const sheet = useBench((state) => state.sheet);
  const pass = useBench(passInHand);
  if (failed) return <span>How much this changes could not be read.</span>;
  if (!meter) return null;
  const { says, concealed, weak, corner, spill, spill_at: at, spill_grow: grow } = meter;
  const region = regionOf(sheet, sheet.passes.find((each) => each.id === pass)?.region);
  return (
    <>
      <span className={`min-w-0 truncate ${stale ? "text-ink-3 [&>b]:font-medium! [&>b]:text-ink-3!" : "text-ink-2"}`} data-stale={stale} data-visible={meter.visible} title={`${concealed || says} ${corner}`}>
        {concealed ? <b data-weak={weak}>{concealed}</b> : says} {corner}
      </span>
      {spill && at && !!grow && region && (
        <Button
          aria-label={`Grow the region by ${(grow * 100).toFixed(1)} %`}
          onClick={() => change(setRefine(sheet, region.id, { grow: Number((Number(region.refine?.grow ?? 0) + grow).toFixed(4)) }), "grown against spill")}
        >
          grow it {(grow * 100).toFixed(1)}&nbsp;%
        </Button>
      )}
      {spill && at && (
        <Button title="Go to the worst place" onClick={() => pointOut({ x: at[0] ?? 0, y: at[1] ?? 0 }, 2)}>
          {spill}
        </Button>
      )}
    </>
  );
}

/** That a solved matte is still coarse; solving can be called off, and taken up again. */
function Refining() {
  const refining = useBench((state) => state.refining);
  if (refining === "no") return null;
  const stopped = refining === "stopped";
  return (
    <span data-refining={refining}>
      {stopped ? "The edge is coarse" : "Still refining…"}{" "}
      <Button
        title="The matte shows coarse first; refined is what an export writes"
        onClick={() => void solving(stopped)}
      >
        {stopped ? "refine it" : "leave it coarse"}
      </Button>
    </span>
  );
}

export function Readings({ shot }: { readonly shot: Shot }) {
  const point = usePointer((state) => state.point);
  const [saving, picture, exaggerated, source, view] = useBench(
    useShallow((state) => [state.saving, state.picture, state.exaggerated, state.source, state.view]),
  );
  const scale = useBench((state) => state.zoom?.scale ?? (state.stage ? fitted(state.stage, shot).scale : 0));
  const slow = useBench((state) => state.slow);
  const matte = useMatteAt(point);
  const region = useBench((state) => regionOf(state.sheet, regionInView(state)));
  return (
    <div data-readings className="flex items-center gap-6 overflow-hidden bg-ground px-6 text-label font-medium whitespace-nowrap text-ink-3 day:text-ink-2 [&_b]:font-semibold [&_b]:text-ink [&>button]:flex-none [&>span:not([data-stale])]:flex-none" aria-live="polite">
      <span>
        Zoom <b>{Math.round(scale * 100)} %</b>
      </span>
      {point && (
        <span>
          At <b>{Math.floor(point.x)}</b>, <b>{Math.floor(point.y)}</b> px
        </span>
      )}
      {matte !== null && (
        <span>
          Matte of {region?.name} <b>{matte.toFixed(2)}</b>
        </span>
      )}
      <Meter />
      <Refining />
      {slow && <span data-slow>{slow}</span>}
      {source && <span>This is the source</span>}
      {exaggerated && <span>Exaggerated four times, its values untouched</span>}
      {view === "cutout" && region && <Grounds />}
      {view === "lattice" && region && <Threads />}
      {view === "difference" && <span>Four times the change; black is unchanged</span>}
      {view === "beyond" && <span>Solid: beyond white. Striped: not a colour of this screen</span>}
      {OF_A_REGION.has(view) && !region && <span>Choose a region to see its {view}</span>}
      <span className="ml-auto">
        {picture === "coarse" && "Coarse picture"}
        {picture === "loading" && <span className="animate-appear">Rendering…</span>}
      </span>
      <span className="sticky right-0 bg-ground" data-saving={saving}>{SAVING[saving]}</span>
    </div>
  );
}
