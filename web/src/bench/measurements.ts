/** Readings of the draft at rest, from the server: meters, histograms, second look. */

import { useEffect, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { type Address, api, asked, type Finding, type Histogram, type Meter, type Sheet } from "../api/client";
import { DRAFT, type DraftAddress, keyOf, onDraft } from "../api/draft";
import { type Side, treatmentOf } from "../document/edit";
import { type Latest, latest } from "./latest";
import { useBench } from "./store";

/** A reading waits until nothing has changed for so long: pictures go first. */
const REST_MS = 350;
const LOOK_MS = 1200;

/** Something to read of a draft: a part of the address and what is asked of it. */
type Order<Query> = { readonly at: Address; readonly sheet: Sheet; readonly query: Query };
type Ask<Query, Answer> = (path: DraftAddress, query: Query) => Promise<Answer>;

/** What an order gives, asked again whenever it or the draft changes; the last answer stays meanwhile. */
export function useReading<Query, Answer>(order: Order<Query> | null, ask: Ask<Query, Answer>, rest: number): Answer | null {
  return useAnswer(order, ask, rest).answer;
}

/** The last answer, and whether it still belongs to a former state of the draft. */
function useAnswer<Query, Answer>(order: Order<Query> | null, ask: Ask<Query, Answer>, rest: number) {
  const [given, setGiven] = useState<{ readonly key: string; readonly answer: Answer } | null>(null);
  const [failed, setFailed] = useState(false);
  const line = useRef<Latest<{ readonly order: Order<Query>; readonly key: string }> | null>(null);
  const moving = useBench((state) => state.dragging);
  // what was read with a coarse matte is read again when it is fine
  const refining = useBench((state) => state.refining === "yes");
  // a clip is read at the frame where it stands, once it stands still
  useBench((state) => state.frame);
  const key = order === null ? "null" : `${refining} ${keyOf(order)}`;
  const current = useRef({ order, ask });
  useEffect(() => {
    current.current = { order, ask };
  });
  useEffect(() => {
    line.current = latest(async (wanted) => {
      const { at, sheet, query } = wanted.order;
      try {
        setGiven({ key: wanted.key, answer: await onDraft(at, sheet, (path) => current.current.ask(path, query)) });
        setFailed(false);
      } catch {
        setGiven(null);
        setFailed(true);
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
  return { answer, failed: failed && order !== null, stale: answer !== null && (moving || given?.key !== key) };
}

/** The meter of the pass in hand, or of its adjustment in hand; stale while it tells of a former value. */
export function useMeter(): { readonly answer: Meter | null; readonly failed: boolean; readonly stale: boolean } {
  const [at, sheet, choice] = useBench(useShallow((state) => [state.at, state.sheet, state.selection]));
  const pass = choice.kind === "what" ? choice.pass : null;
  const known = sheet.passes.some((each) => each.id === pass);
  const order =
    at && pass && known && choice.kind === "what"
      ? { at, sheet, query: { pass_id: pass, side: choice.side, adjustment: acting(sheet, pass, choice.side, choice.adjustment) } }
      : null;
  return useAnswer(order, (path, query) => asked(api.GET(`${DRAFT}/meter`, { params: { path, query } })), REST_MS);
}

/** The adjustment in hand while it stands in the treatment; else none, which is the whole pass. */
function acting(sheet: Sheet, pass: string, side: Side, adjustment: string): string {
  const found = sheet.passes.find((each) => each.id === pass);
  return found && treatmentOf(found, side)[adjustment] ? adjustment : "";
}

/** The histogram inside a region; with `until` of what comes into that pass. */
export function useHistogram(region: string | null, until: string | null, of: "picture" | "source" = "picture"): Histogram | null {
  const [at, sheet] = useBench(useShallow((state) => [state.at, state.sheet]));
  const order = at ? { at, sheet, query: { region, until, of } } : null;
  return useReading(order, (path, query) => asked(api.GET(`${DRAFT}/histogram`, { params: { path, query } })), REST_MS);
}

/** What a careful colleague would point out. */
export function useSecondLook(): { readonly findings: readonly Finding[]; readonly failed: boolean } {
  const [at, sheet] = useBench(useShallow((state) => [state.at, state.sheet]));
  const order = at && sheet.passes.length > 0 ? { at, sheet, query: null } : null;
  const { answer, failed } = useAnswer(order, (path) => asked(api.GET(`${DRAFT}/second-look`, { params: { path } })), LOOK_MS);
  return { findings: answer ?? [], failed };
}
