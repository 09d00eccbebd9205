/** Pictures that the server makes of a draft: previews, scopes, the edge ribbon. */

import { type Address, got, type Sheet } from "./client";
import { named, onSheet } from "./draft";
import type { paths } from "./schema";

type Draft = "/api/projects/{project}/shots/{shot}/drafts/{draft}";
type QueryOf<What extends string> = `${Draft}/${What}` extends keyof paths
  ? paths[`${Draft}/${What}`] extends { get: { parameters: { query: infer Query } } }
    ? Query
    : never
  : never;
type Order<What extends string> = QueryOf<What> & { readonly sheet: Sheet };

export type PreviewOrder = Order<"preview">;
export type RibbonOrder = Order<"ribbon">;
export type ScopeOrder = Order<"scope">;
export type ViewOrder = QueryOf<"rendered">;
type StripOrder = QueryOf<"strip">;

const PLAIN = { ground: "grey", thread: "auto", density: "even", lattice_inside: false } as const;

/** A view without anything special. */
export const PLAIN_VIEW = { ...PLAIN, draft: false, coarse: false } as const;

/** The finished picture without anything special. */
export const PLAIN_LOOK = { ...PLAIN, view: "picture" } as const;

export type PreviewPicture = {
  readonly bitmap: ImageBitmap;
  readonly rectangle: readonly [number, number, number, number];
  /** whether a solved matte in it is still coarse, and whether it is being refined */
  readonly refining: Refining;
};

export type Refining = "no" | "yes" | "stopped";

function refiningOf(response: Response): Refining {
  const said = response.headers.get("X-Refining");
  return said === "yes" || said === "stopped" ? said : "no";
}

/** Fetches a view of a draft; pictures do not go through the JSON client. */
export async function fetchPreview(at: Address, order: PreviewOrder, signal?: AbortSignal): Promise<PreviewPicture> {
  const response = await ordered(at, "preview", order, signal);
  const sides = (response.headers.get("X-Rectangle") ?? "0,0,1,1").split(",").map(Number);
  const [left = 0, top = 0, width = 1, height = 1] = sides;
  return { bitmap: await createImageBitmap(await response.blob()), rectangle: [left, top, width, height], refining: refiningOf(response) };
}

/** Fetches a view of a draft as an address that an image can show; the caller revokes it. */
export async function fetchPreviewUrl(at: Address, order: PreviewOrder, signal: AbortSignal): Promise<string> {
  return URL.createObjectURL(await (await ordered(at, "preview", order, signal)).blob());
}

/** Fetches a scope as an address that an image can show; the caller revokes it. */
export async function fetchScopeUrl(at: Address, order: ScopeOrder): Promise<string> {
  return URL.createObjectURL(await (await ordered(at, "scope", order)).blob());
}

/** A part of the edge ribbon as an address that an image can show; the caller revokes it. */
export type RibbonPicture = {
  readonly url: string;
  readonly start: number;
  readonly total: number;
  readonly every: number;
  /** full-size pixels under every so many columns; null between two lines */
  readonly places: readonly ({ readonly x: number; readonly y: number } | null)[];
};

type ToldRibbon = { readonly total: number; readonly every: number; readonly places: readonly ([number, number] | null)[] };

export async function fetchRibbon(at: Address, order: RibbonOrder): Promise<RibbonPicture> {
  const response = await ordered(at, "ribbon", order);
  const told = JSON.parse(response.headers.get("X-Ribbon") ?? "{}") as ToldRibbon;
  const places = told.places.map((place) => place && { x: place[0], y: place[1] });
  return { url: URL.createObjectURL(await response.blob()), start: order.start ?? 0, total: told.total, every: told.every, places };
}

/** A row of finished frames as an address that an image can show. */
export async function fetchStripUrl(at: Address, sheet: Sheet, order: StripOrder): Promise<string> {
  return URL.createObjectURL(await (await ordered(at, "strip", { sheet, ...order })).blob());
}

function ordered(at: Address, what: string, order: PreviewOrder | RibbonOrder | ScopeOrder | Order<"strip">, signal?: AbortSignal): Promise<Response> {
  const { sheet, ...query } = order;
  return onSheet(sheet, (draft) => got(`/api/projects/${at.project}/shots/${at.shot}/drafts/${named(draft, at.shot)}/${what}`, query, signal));
}
