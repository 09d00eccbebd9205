import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Sheet = Schemas["Sheet"];
export type Step = Schemas["Step"];
export type Pass = Schemas["Pass"];
export type Region = Schemas["Region"];
export type Part = Schemas["Part"];
export type Told = Schemas["ToldOut"];
export type Token = Schemas["TokenOut"];
export type Bench = Schemas["BenchOut"];
export type Catalogue = Schemas["CatalogueOut"];
export type Adjustment = Schemas["AdjustmentOut"];
export type PartKind = Schemas["PartKindOut"];
export type Parameter = Schemas["ParameterOut"];
export type Starter = Schemas["StarterOut"];
export type Shot = Schemas["ShotOut"];
export type Project = Schemas["ProjectOut"];
export type ProjectDetail = Schemas["ProjectDetailOut"];
export type Export = Schemas["ExportOut"];
export type ExportOrder = Schemas["ExportIn"];
export type PreviewOrder = Schemas["PreviewIn"];
export type Problem = Schemas["Problem"];
export type Snapshot = Schemas["SnapshotOut"];
export type Copied = Schemas["CopiedOut"];
export type Piece = Schemas["PieceOut"];
export type Meter = Schemas["MeterOut"];
export type Histogram = Schemas["HistogramOut"];
export type Finding = Schemas["FindingOut"];
export type Look = Schemas["LookOut"];
export type Stroke = Schemas["Stroke"];
export type Slope = Schemas["SlopeOut"];
export type PartTold = Schemas["PartToldOut"];
export type Ranged = Schemas["RangedOut"];
export type Place = Schemas["PlaceOut"];
export type Offer = Schemas["OfferOut"];
export type Finds = Schemas["FindsOut"];

export const api = createClient<paths>({ baseUrl: "/" });

/** A refusal of the server, or its silence (`status` 0). */
export class Refusal extends Error {
  readonly status: number;
  readonly code: string;
  readonly shot: string | null;
  /** what there is to say in full, one sentence each */
  readonly said: readonly string[];

  constructor(problem: Partial<Problem>) {
    super(problem.title ?? "The server does not answer. What was saved is kept; Calado tries again.");
    this.status = problem.status ?? 0;
    this.code = problem.code ?? "offline";
    this.shot = problem.shot ?? null;
    this.said = problem.said ?? [];
  }
}

type Answer<Data> = { readonly data?: Data; readonly error?: unknown; readonly response: Response };

/** Returns the data of an answer, or throws its refusal. */
export async function asked<Data>(call: Promise<Answer<Data>>): Promise<Data> {
  let answer: Answer<Data>;
  try {
    answer = await call;
  } catch {
    throw new Refusal({});
  }
  if (!answer.response.ok) throw await refusalOf(answer.response, answer.error);
  return answer.data as Data;
}

async function refusalOf(response: Response, error: unknown): Promise<Refusal> {
  if (error && typeof error === "object" && "title" in error) return new Refusal(error as Partial<Problem>);
  return new Refusal({ title: `The server answered with ${response.status}.`, status: response.status, code: "fault" });
}

export type Address = { readonly project: string; readonly shot: string };

/** A view without anything special. */
export const PLAIN_VIEW = {
  ground: "grey",
  thread: "auto",
  density: "even",
  lattice_inside: false,
  draft: false,
  coarse: false,
} as const;

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
  const response = await previewResponse(at, order, signal);
  const sides = (response.headers.get("X-Rectangle") ?? "0,0,1,1").split(",").map(Number);
  const [left = 0, top = 0, width = 1, height = 1] = sides;
  return { bitmap: await createImageBitmap(await response.blob()), rectangle: [left, top, width, height], refining: refiningOf(response) };
}

/** Fetches a view of a draft as an address that an image can show; the caller revokes it. */
export async function fetchPreviewUrl(at: Address, order: PreviewOrder): Promise<string> {
  return URL.createObjectURL(await (await previewResponse(at, order)).blob());
}

function previewResponse(at: Address, order: PreviewOrder, signal?: AbortSignal): Promise<Response> {
  return posted(`/api/projects/${at.project}/shots/${at.shot}/preview`, order, signal);
}

/** The answer to something that is no JSON; a refusal is thrown. */
export async function posted(address: string, body: object, signal?: AbortSignal): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(address, {
      method: "POST",
      headers: body instanceof FormData ? {} : { "Content-Type": "application/json" },
      body: body instanceof FormData ? body : JSON.stringify(body),
      signal: signal ?? null,
    });
  } catch {
    throw new Refusal({});
  }
  if (response.ok) return response;
  throw await refusalOf(response, await response.json().catch(() => null));
}

export function thumbnailUrl(at: Address, head: number, of: "done" | "source" = "done"): string {
  return `/api/projects/${at.project}/shots/${at.shot}/thumbnail?of=${of}&head=${head}`;
}

export type EdgeProfile = Schemas["EdgeOut"];

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

export async function fetchRibbon(at: Address, order: Schemas["RibbonIn"]): Promise<RibbonPicture> {
  const response = await posted(`/api/projects/${at.project}/shots/${at.shot}/ribbon`, order);
  const told = JSON.parse(response.headers.get("X-Ribbon") ?? "{}") as ToldRibbon;
  const places = told.places.map((place) => place && { x: place[0], y: place[1] });
  return { url: URL.createObjectURL(await response.blob()), start: order.start, total: told.total, every: told.every, places };
}
