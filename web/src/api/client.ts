import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Sheet = Schemas["Sheet"];
export type Step = Schemas["Step"];
export type Pass = Schemas["Pass"];
export type Region = Schemas["Region"];
export type Part = Schemas["Part"];
export type Description = Schemas["DescriptionOut"];
export type Token = Schemas["TokenOut"];
export type Bench = Schemas["BenchOut"];
export type Catalogue = Schemas["CatalogueOut"];
export type Adjustment = Schemas["AdjustmentOut"];
export type PartKind = Schemas["PartKindOut"];
export type Parameter = Schemas["ParameterOut"];
export type Format = Schemas["FormatOut"];
export type Clip = Schemas["ClipOut"];
export type MovedPart = Schemas["MovedOut"];
export type Fix = Schemas["Fix"];
export type Motion = Schemas["MotionOut"];
export type MotionKind = Schemas["MotionIn"]["motion"];
export type Ease = "hold" | "linear" | "smooth";
export type Starter = Schemas["StarterOut"];
export type Shot = Schemas["ShotOut"];
export type Project = Schemas["ProjectOut"];
export type ProjectDetail = Schemas["ProjectDetailOut"];
export type Export = Schemas["ExportOut"];
export type Job = Schemas["JobOut"];
export type ExportOrder = Schemas["ExportIn"];
export type Problem = Schemas["Problem"];
export type Snapshot = Schemas["SnapshotOut"];
export type Copied = Schemas["CopiedOut"];
export type Piece = Schemas["ComponentOut"];
export type Meter = Schemas["MeterOut"];
export type Histogram = Schemas["HistogramOut"];
export type Finding = Schemas["FindingOut"];
export type Look = Schemas["LookOut"];
export type Stroke = Schemas["Stroke"];
export type Slope = Schemas["SlopeOut"];
export type Declared = Schemas["Declared"];
export type Cover = Schemas["CoverOut"];
export type Report = Schemas["ReportOut"];
export type CoverReport = Schemas["CoverReportOut"];
export type Stop = Schemas["StopOut"];
export type CoverRun = Schemas["RunOut"];
export type PartDescription = Schemas["PartDescriptionOut"];
export type Ranged = Schemas["RangedOut"];
export type Place = Schemas["PlaceOut"];
export type Offer = Schemas["OfferOut"];
export type Finds = Schemas["FindsOut"];
export type Thing = Schemas["ThingOut"];

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

/** The answer to something that is no JSON; a refusal is thrown. */
export async function posted(address: string, body: object): Promise<Response> {
  return fetched(address, {
    method: "POST",
    headers: body instanceof FormData ? {} : { "Content-Type": "application/json" },
    body: body instanceof FormData ? body : JSON.stringify(body),
  });
}

type Query = Readonly<Record<string, string | number | boolean | null | undefined | readonly number[]>>;

/** The answer of an address that gives no JSON; a refusal is thrown. */
export async function got(address: string, query: Query, signal?: AbortSignal): Promise<Response> {
  const fields = new URLSearchParams();
  for (const [name, value] of Object.entries(query)) {
    for (const each of Array.isArray(value) ? value : [value]) if (each !== null && each !== undefined) fields.append(name, String(each));
  }
  return fetched(`${address}?${fields}`, { signal: signal ?? null });
}

async function fetched(address: string, how: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(address, how);
  } catch {
    throw new Refusal({});
  }
  if (response.ok) return response;
  throw await refusalOf(response, await response.json().catch(() => null));
}

/** A small picture of a frame of a clip's source. */
export function frameUrl(at: Address, frame: number): string {
  return `/api/projects/${at.project}/shots/${at.shot}/thumbnail?of=source&frame=${frame}`;
}

/** A small picture of a shot as it is done at a revision; one that was split has another picture too. */
export function thumbnailUrl(at: Address, { head, clip }: Pick<Shot, "head" | "clip">, of: "done" | "source" = "done"): string {
  return `/api/projects/${at.project}/shots/${at.shot}/thumbnail?of=${of}&head=${head}-${clip?.frames ?? 0}`;
}
export type EdgeProfile = Schemas["EdgeOut"];
