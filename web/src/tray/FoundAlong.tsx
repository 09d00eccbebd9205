/** Faces and lines of lettering along a clip: looked for by a worker, seen, and concealed or marked, each followed. */

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Address, api, asked, type Thing } from "../api/client";
import { DRAFT, keyOf } from "../api/draft";
import { runs, useEndJob, useJobs } from "../api/queries";
import { beginOnFinds } from "../bench/along";
import { onThisDraft } from "../bench/request";
import { useBench } from "../bench/store";
import { ProgressBar } from "../icons/icons";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Say, WordLine } from "../ui/Words";

const ALONG = "/api/projects/{project}/shots/{shot}/along";
/** How much is shown of a thing, in its sizes. */
const ROUND = { face: 1.7, text: 1.2 } as const;
const NAMES = { face: ["face", "faces"], text: ["line of text", "lines of text"] } as const;

export function FoundAlong({ at, onClose }: { readonly at: Address; readonly onClose: () => void }) {
  const client = useQueryClient();
  const running = useJobs(at.project).find(({ kind, of }) => kind === "find" && of === at.shot);
  // what came of it is asked for when it is there
  const found = useQuery({
    queryKey: ["along", at.shot, running?.id, running?.state],
    queryFn: () => asked(api.GET(ALONG, { params: { path: at } })),
    placeholderData: keepPreviousData,
  });
  const look = useMutation({
    mutationFn: () => asked(api.POST(ALONG, { params: { path: at } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["jobs", at.project] }),
  });
  const job = running ?? found.data?.job;
  const things = job?.state === "done" && found.data?.job?.state === "done" ? found.data : null;
  const problem = look.error?.message ?? found.error?.message ?? job?.problem;
  return (
    <Dialog title="Along the clip" onClose={onClose}>
      <div className="mt-3 grid gap-3">
        {problem && <Say role="alert">{problem}</Say>}
        {!found.isPending && (!job || job.state === "cancelled" || job.state === "failed") && (
          <>
            <Say>All faces and lines of text are looked for along the whole clip, some times a second. You can go on working meanwhile.</Say>
            <span>
              <Button look="fill" disabled={look.isPending} onClick={() => look.mutate()}>
                Look along the clip
              </Button>
            </span>
          </>
        )}
        {job && runs(job) && <Looking project={at.project} id={job.id} share={job.progress} />}
        {job && things && (
          <Things {...{ at, onClose }} job={job.id} every={things.every} things={things.things} onAgain={() => look.mutate()} />
        )}
      </div>
    </Dialog>
  );
}

function Looking({ project, id, share }: { readonly project: string; readonly id: string; readonly share: number }) {
  const end = useEndJob(project);
  const said = `Looking for faces and text, ${Math.round(share * 100)} %`;
  return (
    <div className="grid max-w-105 gap-1">
      <WordLine>
        {said}
        <Button onClick={() => end.mutate(id)}>cancel</Button>
      </WordLine>
      <ProgressBar share={share} label={said} />
    </div>
  );
}

type Props = { readonly at: Address; readonly job: string; readonly every: number; readonly things: readonly Thing[]; readonly onAgain: () => void; readonly onClose: () => void };

function Things({ at, job, every, things, onAgain, onClose }: Props) {
  const covered = useCovered(job);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [busy, setBusy] = useState(false);
  const counted = (["face", "text"] as const).map((kind) => {
    const count = things.filter((thing) => thing.sure && thing.kind === kind).length;
    return `${count === 0 ? "no" : count} ${NAMES[kind][count === 1 || count === 0 ? 0 : 1]}`;
  });
  const bare = things.filter(({ sure }, k) => sure && !covered.has(k)).length;
  const secret = things.flatMap(({ sure, offer }, k) => (sure && offer.private && !covered.has(k) ? [k] : []));
  const doubtful = things.filter(({ sure }) => !sure).length;
  const all = (kind: string) => setChosen(new Set([...chosen, ...things.flatMap((thing, k) => (thing.sure && thing.kind === kind && !covered.has(k) ? [k] : []))]));
  const pick = (k: number) => setChosen((before) => new Set(before.has(k) ? [...before].filter((each) => each !== k) : [...before, k]));
  const begin = async (conceal: boolean) => {
    setBusy(true);
    await beginOnFinds(job, [...chosen].toSorted((a, b) => a - b), conceal);
    onClose();
  };
  return (
    <>
      <Say>
        Found: {counted.join(", ")}.{doubtful > 0 && ` ${doubtful} more may be: it was hardly found again.`} Every {every === 1 ? "frame" : `${ordinal(every)} frame`} was looked at for faces, every {ordinal(2 * every)} for text: what shows for less may be missing.
        {covered.size > 0 && bare > 0 && ` ${bare} of what was found ${bare === 1 ? "is" : "are"} not covered.`}
      </Say>
      <WordLine>
        {things.some(({ kind }) => kind === "face") && <Button onClick={() => all("face")}>choose all faces</Button>}
        {things.some(({ kind }) => kind === "text") && <Button onClick={() => all("text")}>choose all text</Button>}
        {secret.length > 0 && (
          <Button title="They read like a number, a plate or a name. See whether these are all" onClick={() => setChosen(new Set([...chosen, ...secret]))}>
            choose what looks private
          </Button>
        )}
        {covered.size > 0 && bare > 0 && <Button onClick={() => setChosen(new Set(things.flatMap(({ sure }, k) => (sure && !covered.has(k) ? [k] : []))))}>choose what is not covered</Button>}
        {chosen.size > 0 && <Button onClick={() => setChosen(new Set())}>choose none</Button>}
        <Button className="ml-auto" onClick={onAgain}>
          look again
        </Button>
      </WordLine>
      <div className="-m-1 grid max-h-76 grid-cols-4 gap-x-3 gap-y-2.5 overflow-y-auto p-1" role="group" aria-label="Found along the clip">
        {things.map((thing, k) => (
          <Card key={`${thing.kind} ${thing.frame} ${thing.offer.box.join(" ")}`} {...{ at, thing }} name={nameOf(things, k)} covered={covered.has(k)} chosen={chosen.has(k)} onPick={() => pick(k)} />
        ))}
      </div>
      {things.length > 0 && (
        <span className="flex gap-2.5">
          <Button look="fill" disabled={chosen.size === 0 || busy} onClick={() => void begin(true)}>
            {chosen.size === 0 ? "Conceal" : `Conceal ${chosen.size}, and follow`}
          </Button>
          <Button look="line" disabled={chosen.size === 0 || busy} onClick={() => void begin(false)}>
            Only mark as regions
          </Button>
        </span>
      )}
    </>
  );
}

type CardProps = { readonly at: Address; readonly thing: Thing; readonly name: string; readonly covered: boolean; readonly chosen: boolean; readonly onPick: () => void };

function Card({ at, thing, name, covered, chosen, onPick }: CardProps) {
  const [left = 0, top = 0, wide = 0, high = 0] = thing.offer.box;
  const side = Math.max(wide, high, 0.02) * ROUND[thing.kind === "face" ? "face" : "text"];
  const [x, y] = [left + wide / 2, top + high / 2];
  const query = new URLSearchParams({ frame: String(thing.frame), x: x.toFixed(4), y: y.toFixed(4), side: side.toFixed(4) });
  const corners = thing.offer.outline.map(([a = 0, b = 0]) => `${((a - x) / side + 0.5).toFixed(4)} ${((b - y) / side + 0.5).toFixed(4)}`);
  const mark = `M${corners.join("L")}Z`;
  const spans = thing.spans.map(([first, last]) => (first === last ? `${first}` : `${first}\u2013${last}`));
  return (
    <label className="grid content-start gap-1 text-label font-medium text-ink-2">
      <span className={`relative block ${chosen ? "outline-2 outline-offset-2 outline-mark-line" : ""}`}>
        <img className="aspect-4/3 w-full bg-ground object-cover" src={`/api/projects/${at.project}/shots/${at.shot}/square?${query}`} alt="" />
        <svg className="absolute inset-0 size-full" viewBox="0 0 1 1" preserveAspectRatio="xMidYMid slice" aria-hidden>
          <path d={mark} fill="none" stroke="var(--color-casing)" strokeWidth="2" vectorEffect="non-scaling-stroke" />
          <path d={mark} fill="none" stroke="var(--color-thread)" strokeWidth="1" strokeDasharray="5 4" vectorEffect="non-scaling-stroke" />
        </svg>
      </span>
      <span className="flex min-h-6 items-center gap-2 text-ink">
        <input type="checkbox" className="accent-ink" checked={chosen} onChange={onPick} />
        {name}
      </span>
      <span className="text-note">
        {spans.length === 1 && thing.spans[0]?.[0] === thing.spans[0]?.[1] ? "frame" : "frames"} {spans.join(", ")}
      </span>
      {covered && <span className="text-note text-ink">covered in frame {thing.frame}</span>}
    </label>
  );
}

function nameOf(things: readonly Thing[], index: number): string {
  const { kind = "", sure, offer } = things[index] ?? {};
  if (!sure) return kind === "face" ? "perhaps a face" : `perhaps ${offer?.reads ? `“${offer.reads}”` : "text"}`;
  if (offer?.reads) return `“${offer.reads}”`;
  const same = things.filter((each) => each.sure && each.kind === kind);
  return same.length > 1 ? `${kind} ${things.slice(0, index + 1).filter((each) => each.kind === kind).length}` : kind;
}

/** Which things lie whole under covers on the sheet in hand, where each shows best. */
function useCovered(job: string): ReadonlySet<number> {
  const sheet = useBench((state) => state.sheet);
  const { data } = useQuery({
    queryKey: ["covered", job, keyOf({ sheet })],
    queryFn: () => onThisDraft((path) => asked(api.GET(`${DRAFT}/on-finds`, { params: { path, query: { job } } }))),
  });
  return new Set(data?.covered);
}

/** “2nd”, “6th”, “21st”. */
function ordinal(number: number): string {
  const rule = new Intl.PluralRules("en", { type: "ordinal" }).select(number);
  return `${number}${{ zero: "th", one: "st", two: "nd", few: "rd", many: "th", other: "th" }[rule]}`;
}
