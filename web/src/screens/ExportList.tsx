/** The queue of exports: progress, time left, cancel, download. */

import { lazy, Suspense, useState } from "react";
import type { Export } from "../api/client";
import { ProgressBar } from "../icons/icons";
import { useCancelExport, useClipFormats, useExports, useRemoveExport } from "../api/queries";
import { Button, LOOKS } from "../ui/Button";
import { Line, LineEnd, Say } from "../ui/Words";

const Report = lazy(async () => ({ default: (await import("./ReportDialog")).ReportDialog }));
const Statement = lazy(async () => ({ default: (await import("./StatementDialog")).StatementDialog }));

export function ExportList({ project }: { readonly project: string }) {
  const { data = [] } = useExports(project);
  if (data.length === 0) return null;
  return (
    <section aria-label="Exports" className="mt-5 grid gap-2.5">
      {data.slice(0, 12).map((each) => (
        <ExportItem key={each.id} project={project} item={each} />
      ))}
    </section>
  );
}

/** What kind of file it is; a clip's format names itself. */
function useKind(item: Export): string {
  const clip = useClipFormats().find(({ id }) => id === item.format);
  if (item.file_name.endsWith(".zip")) return `${item.format.toUpperCase()}, numbered`;
  return clip?.name ?? (item.format === "jpeg" ? "JPEG" : `${item.format.toUpperCase()} ${item.bits} bit`);
}

function ExportItem({ project, item }: { readonly project: string; readonly item: Export }) {
  const cancel = useCancelExport(project);
  const remove = useRemoveExport(project);
  const kind = useKind(item);
  const [reads, setReads] = useState(false);
  const [states, setStates] = useState(false);
  const busy = item.state === "waiting" || item.state === "running";
  return (
    <div data-export={item.state}>
      <Line>
        <span className="text-ink">{item.file_name}</span>
        <span>{kind}</span>
        <LineEnd>
          {stateText(item)}
          {busy && (
            <Button onClick={() => cancel.mutate(item.id)}>
              cancel
            </Button>
          )}
          {item.state === "done" && (
            <a className={LOOKS.word} href={`/api/projects/${project}/exports/${item.id}/file`} download={item.file_name}>
              download
            </a>
          )}
          {item.state === "done" && item.read_back && (
            <Button aria-label={`Concealment report of ${item.file_name}`} onClick={() => setReads(true)}>
              report
            </Button>
          )}
          {item.stated && (
            <Button title="What was changed, to how much of it: for whoever asks" aria-label={`Statement of changes of ${item.file_name}`} onClick={() => setStates(true)}>
              statement
            </Button>
          )}
          {!busy && (
            <Button aria-label={`Remove ${item.file_name}`} onClick={() => remove.mutate(item.id)}>
              remove
            </Button>
          )}
        </LineEnd>
      </Line>
      {busy && <ProgressBar share={item.progress} label={`Export of ${item.file_name}`} />}
      {item.accepted && (
        <p className="text-[12px] leading-4 whitespace-pre-line text-ink-2">Exported all the same: {item.accepted}</p>
      )}
      {item.says && <p className="text-[12px] leading-4 text-ink-2">{item.says}</p>}
      {item.read_back && (item.good ? <p className="text-[12px] leading-4 text-ink-2">{item.read_back}</p> : <Say role="alert">{item.read_back}</Say>)}
      {reads && (
        <Suspense>
          <Report {...{ project, item }} onClose={() => setReads(false)} />
        </Suspense>
      )}
      {states && (
        <Suspense>
          <Statement {...{ project, item }} onClose={() => setStates(false)} />
        </Suspense>
      )}
      {item.problem && (
        <Say role="alert">
          {item.problem}
        </Say>
      )}
    </div>
  );
}

function stateText(item: Export): string {
  switch (item.state) {
    case "waiting":
      return "waiting";
    case "running": {
      const left = item.seconds_left == null ? "" : `, ${Math.ceil(item.seconds_left)} s left`;
      return `${Math.round(item.progress * 100)} %${left}`;
    }
    case "done":
      return item.size_bytes < 1e6 ? `${Math.ceil(item.size_bytes / 1e3)} kB` : `${(item.size_bytes / 1e6).toFixed(1)} MB`;
    case "cancelled":
      return "called off";
    default:
      return "failed";
  }
}
