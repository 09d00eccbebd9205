/** The concealment report of an export, to be read here or handed on. */

import { useQuery } from "@tanstack/react-query";
import { api, asked, type CoverReport, type CoverRun, type Export } from "../api/client";
import { LOOKS } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Say, WordLine } from "../ui/Words";

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
          <WordLine className="mt-1">
            <a className={LOOKS.word} href={`${at}/report.pdf`} download>
              PDF
            </a>
            <a className={LOOKS.word} href={`${at}/report.csv`} download>
              table (CSV)
            </a>
          </WordLine>
          <dl className="mt-3 grid grid-cols-[6.5rem_1fr] gap-y-1 text-label text-ink-2 [&_dd]:text-ink">
            <dt>File</dt>
            <dd>
              {data.written.file}, {data.written.size_bytes.toLocaleString("en")} bytes
            </dd>
            <dt>SHA-256</dt>
            <dd className="break-all">{data.written.sha256}</dd>
            <dt>Written</dt>
            <dd>
              {data.written.when}, by Calado {data.written.version}, revision {data.written.revision}
            </dd>
            <dt>Of</dt>
            <dd>
              {data.of.clip}, frames {data.of.first} to {data.of.last} of {data.of.frames}
            </dd>
          </dl>
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

function Heading({ children }: { readonly children: string }) {
  return <h2 className="mt-5 mb-1 font-book text-[17px] font-medium">{children}</h2>;
}

function Lines({ heading, lines }: { readonly heading: string; readonly lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <section>
      <Heading>{heading}</Heading>
      {lines.map((line) => (
        <Say key={line}>{line}</Say>
      ))}
    </section>
  );
}

function Covered({ at, cover }: { readonly at: string; readonly cover: CoverReport }) {
  return (
    <section aria-label={cover.name}>
      <Heading>{`${cover.name}, over ${cover.region}`}</Heading>
      <Say>{cover.method}</Say>
      <Say>
        {cover.stands} It {cover.says}. {cover.left}
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
            <img className="h-20 rounded-token" src={`${at}/frames/${frame}`} alt={`Frame ${frame} of the file`} loading="lazy" />
            <figcaption className="text-note text-ink-2">
              frame {frame}
              {confidence === null ? "" : `, ${Math.round(confidence * 100)} % sure`}
            </figcaption>
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
