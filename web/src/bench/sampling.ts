/** Regions read from the picture, with the server's help: samples, finds, further places, solving. */

import { useShallow } from "zustand/react/shallow";
import { api, asked, type Finds, type Offer, type Place, type Ranged } from "../api/client";
import { DRAFT } from "../api/draft";
import { beginDrawn, type Draw } from "./begin";
import { useReading } from "./measurements";
import { onShot, onThisDraft } from "./request";
import { change } from "./saving";
import { type SampleMode, useBench } from "./store";


type Box = readonly [number, number, number, number];
const SHOT = "/api/projects/{project}/shots/{shot}";

const SAID = { set: "sample", add: "sample more", erase: "sample out" } as const;

/** Takes a sample from a box of the picture, in picture heights, for a part. */
export async function takeSample(region: string, part: string, box: Box, does: SampleMode): Promise<void> {
  const body = { region, part, box: [...box] as [number, number, number, number], does };
  const made = await onThisDraft((path) => asked(api.POST(`${DRAFT}/sample`, { params: { path }, body })));
  if (made) change(made.sheet, SAID[does]);
}

/** Balances the side of a pass in hand for the light of a place that should be grey. */
export async function balance(box: Box): Promise<void> {
  const { selection } = useBench.getState();
  if (selection.kind !== "what") return;
  const body = { pass_id: selection.pass, side: selection.side, box: [...box] as [number, number, number, number] };
  const made = await onThisDraft((path) => asked(api.POST(`${DRAFT}/balance`, { params: { path }, body })));
  if (!made) return;
  change(made.sheet, "balance");
  useBench.setState({ balancing: false });
}

/** Begins a part by a first sample; without one it stands as it is declared. */
export async function beginSampled(draw: Draw, box: Box | null): Promise<void> {
  const begun = await beginDrawn(draw, {}, []);
  if (begun && box) await takeSample(begun.region, begun.part, box, "set");
}

/** What a range's control is drawn over. */
export function useRanged(region: string, part: string): Ranged | null {
  const [at, sheet] = useBench(useShallow((state) => [state.at, state.sheet]));
  const order = at ? { at, sheet, query: { region, part } } : null;
  return useReading(order, (path, query) => asked(api.GET(`${DRAFT}/ranged`, { params: { path, query } })), REST_MS);
}

const REST_MS = 200;

/** What is looked for, one after another, and its name. */
export const KINDS = [
  ["subject", "people"],
  ["face", "faces"],
  ["read", "lettering"],
] as const;

/** Looks for a kind, or says how many of each were found. */
export function findIn(kind?: (typeof KINDS)[number][0]): Promise<Finds | null> {
  const { frame } = useBench.getState();
  const query = { frame: frame === null ? "" : String(frame), kind };
  return onShot((path) => asked(api.GET(`${SHOT}/found`, { params: { path, query } })));
}

/** Makes what was found a region, or a part of one. */
export async function beginOffer(draw: Draw, offer: Offer): Promise<void> {
  useBench.setState({ suggestions: [] });
  const points = (offer.points ?? []) as number[][];
  await beginDrawn({ ...draw, part: offer.kind }, offer.values, points, false, offer.strokes);
}

export function furtherPlaces(region: string): Promise<Place[] | null> {
  return onThisDraft((path) => asked(api.GET(`${DRAFT}/further`, { params: { path, query: { region } } })));
}

type Touch = { readonly size: number | null; readonly hardness: number | null; readonly says: string };

/** Which brush fits the picture's edge at a place, in picture heights. */
export function touchAt(x: number, y: number): Promise<Touch | null> {
  return onShot((path) => asked(api.GET(`${SHOT}/touch`, { params: { path, query: { x, y } } })));
}

/** Calls off what is being solved, or lets it go on. */
export async function solving(goOn: boolean): Promise<void> {
  await onShot(() => asked(api.POST("/api/solving", { body: { go_on: goOn } })));
  // the picture is asked for again, and says how it stands
  useBench.setState(({ sheet }) => ({ sheet: { ...sheet }, refining: goOn ? "yes" : "stopped" }));
}
