/** Readings of the draft at rest, from the server: meters, histograms, second look. */

import { useEffect, useRef, useState } from "react";
import { api, asked, type Finding, type Histogram, type Meter, type Sheet } from "../api/client";
import { type Side, treatmentOf } from "../document/edit";
import { type Latest, latest } from "./latest";
import { useBench } from "./store";

const SHOT = "/api/projects/{project}/shots/{shot}";
/** A reading waits until nothing has changed for so long: pictures go first. */
const REST_MS = 350;
const LOOK_MS = 1200;

/** What an order gives, asked again whenever it or the draft changes; the last answer stays meanwhile. */
export function useReading<Order, Answer>(order: Order | null, ask: (order: Order) => Promise<Answer>, rest: number): Answer | null {
  return useAnswer(order, ask, rest).answer;
}

/** The last answer, and whether it still belongs to a former state of the draft. */
function useAnswer<Order, Answer>(order: Order | null, ask: (order: Order) => Promise<Answer>, rest: number) {
  const [given, setGiven] = useState<{ readonly key: string; readonly answer: Answer } | null>(null);
  const line = useRef<Latest<{ readonly order: Order; readonly key: string }> | null>(null);
  const moving = useBench((state) => state.moving);
  // what was read with a coarse matte is read again when it is fine
  const refining = useBench((state) => state.refining === "yes");
  const key = order === null ? "null" : `${refining} ${JSON.stringify(order)}`;
  const current = useRef({ order, ask });
  useEffect(() => {
    current.current = { order, ask };
  });
  useEffect(() => {
    line.current = latest(async (wanted) => {
      try {
        setGiven({ key: wanted.key, answer: await current.current.ask(wanted.order) });
      } catch {
        setGiven(null);
      }
    });
    return () => line.current?.stop();
  }, []);
  useEffect(() => {
    if (moving || key === "null") return;
    const timer = setTimeout(() => current.current.order && line.current?.want({ order: current.current.order, key }), rest);
    return () => clearTimeout(timer);
  }, [key, moving, rest]);
  const answer = order === null ? null : (given?.answer ?? null);
  return { answer, stale: answer !== null && (moving || given?.key !== key) };
}

type Path = { readonly project: string; readonly shot: string };
type MeterOrder = { readonly path: Path; readonly body: { sheet: Sheet; pass_id: string; side: Side | null; adjustment: string } };

/** The meter of the pass in hand, or of its adjustment in hand; stale while it tells of a former value. */
export function useMeter(): { readonly answer: Meter | null; readonly stale: boolean } {
  const { at, sheet, choice } = useBench();
  const pass = choice.kind === "what" ? choice.pass : null;
  const known = sheet.passes.some((each) => each.id === pass);
  const order: MeterOrder | null =
    at && pass && known && choice.kind === "what"
      ? {
          path: { ...at },
          body: { sheet, pass_id: pass, side: choice.side, adjustment: acting(sheet, pass, choice.side, choice.adjustment) },
        }
      : null;
  return useAnswer(order, ({ path, body }) => asked(api.POST(`${SHOT}/meter`, { params: { path }, body: body as never })), REST_MS);
}

/** The adjustment in hand while it stands in the treatment; else none, which is the whole pass. */
function acting(sheet: Sheet, pass: string, side: Side, adjustment: string): string {
  const found = sheet.passes.find((each) => each.id === pass);
  return found && treatmentOf(found, side)[adjustment] ? adjustment : "";
}

type Of = "picture" | "source";
type HistogramOrder = { readonly path: Path; readonly body: { sheet: Sheet; region: string | null; until: string | null; of: Of } };

/** The histogram inside a region; with `until` of what comes into that pass. */
export function useHistogram(region: string | null, until: string | null, of: Of = "picture"): Histogram | null {
  const { at, sheet } = useBench();
  const order: HistogramOrder | null = at ? { path: { ...at }, body: { sheet, region, until, of } } : null;
  return useReading(order, ({ path, body }) => asked(api.POST(`${SHOT}/histogram`, { params: { path }, body: body as never })), REST_MS);
}

type LookOrder = { readonly path: Path; readonly body: { sheet: Sheet } };

/** What a careful colleague would point out. */
export function useSecondLook(): readonly Finding[] {
  const { at, sheet } = useBench();
  const order: LookOrder | null = at && sheet.passes.length > 0 ? { path: { ...at }, body: { sheet } } : null;
  const found = useReading(
    order,
    ({ path, body }) => asked(api.POST(`${SHOT}/second-look`, { params: { path }, body: body as never })),
    LOOK_MS,
  );
  return found ?? [];
}
