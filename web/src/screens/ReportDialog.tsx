/** The concealment report of an export, to be read here or handed on. */

import { useQuery } from "@tanstack/react-query";
import { api, asked, type CoverReport, type CoverRun, type Export } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { Say } from "../ui/Words";
import { Facts, HandOn, Heading, Lines } from "./Told";

type Props = { readonly project: string; readonly item: Export; readonly onClose: () => void };

export function ReportDialog({ project, item, onClose }: Props) {
  const at = `/api/projects/${project}/exports/${item.id}`;
  const { data, error } = useQuery({
    queryKey: ["report", item.id],
    queryFn: () => asked(api.GET("/api/projects/{project}/exports/{export}/report", { params: { path: { project, export: item.id } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Dialog title="Concealment report" onClose={onClose}>
      {error && <Say role="alert">{error.message}</Say>}
      {data && (
        <>
          <HandOn at={`${at}/report`} />
          <Facts written={data.written} of={data.of} />
          <Lines heading="What is wrong" lines={data.findings} />
          <Lines heading="Exported all the same" lines={data.accepted} />
          {data.covers.map((cover) => (
            <Covered key={`${cover.name} ${cover.region}`} at={at} cover={cover} />
          ))}
          <Lines heading="All that was done" lines={data.sentences} />
        </>
      )}
    </Dialog>
  );
}

function Covered({ at, cover }: { readonly at: string; readonly cover: CoverReport }) {
  return (
    <section aria-label={cover.name}>
      <Heading>{`${cover.name}, over ${cover.region}`}</Heading>
      <Say>{cover.method}</Say>
      <Say>
        {[cover.stands, cover.says, cover.left].filter(Boolean).join(" ")}
      </Say>
      <ul className="my-2 text-label text-ink-2">
        {cover.runs.map((run) => (
          <li key={run.first} className="grid grid-cols-[8.5rem_8.5rem_1fr] border-b border-line py-0.5">
            <span className="text-ink">{run.first === run.last ? `frame ${run.first}` : `frames ${run.first} to ${run.last}`}</span>
            <span>{stateOf(run)}</span>
            <span>{[run.who, run.when.slice(0, 10)].filter(Boolean).join(", ")}</span>
          </li>
        ))}
      </ul>
      <div className="flex gap-2 overflow-x-auto">
        {cover.shown.map(({ frame, confidence }) => (
          <figure key={frame} className="flex-none">
            <img
              className="h-20 rounded-token"
              src={`${at}/frames/${frame}`}
              alt={cover.runs.length > 0 ? `Frame ${frame} of the file` : "The file"}
              loading="lazy"
            />
            {cover.runs.length > 0 && (
              <figcaption className="text-note text-ink-2">
                frame {frame}
                {confidence === null ? "" : `, ${Math.round(confidence * 100)} % sure`}
              </figcaption>
            )}
          </figure>
        ))}
      </div>
    </section>
  );
}

function stateOf(run: CoverRun): string {
  if (run.declared === "seen") return "looked at";
  return { covered: "covered", absent: "declared absent", open: "open", off: "outside of the pass" }[run.state];
}
