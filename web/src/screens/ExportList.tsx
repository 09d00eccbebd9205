/** The queue of exports: progress, time left, cancel, download. */

import type { Export } from "../api/client";
import { ProgressBar } from "../marks/marks";
import { useCancelExport, useExports, useRemoveExport } from "../api/queries";

export function ExportList({ project }: { readonly project: string }) {
  const { data = [] } = useExports(project);
  if (data.length === 0) return null;
  return (
    <section aria-label="Exports" style={{ marginTop: 20, display: "grid", gap: 10 }}>
      {data.slice(0, 12).map((each) => (
        <ExportItem key={each.id} project={project} item={each} />
      ))}
    </section>
  );
}

const BITS = (item: Export) => (item.format === "jpeg" ? "JPEG" : `${item.format.toUpperCase()} ${item.bits} bit`);

function ExportItem({ project, item }: { readonly project: string; readonly item: Export }) {
  const cancel = useCancelExport(project);
  const remove = useRemoveExport(project);
  const busy = item.state === "waiting" || item.state === "running";
  return (
    <div data-export={item.state}>
      <p className="line-item">
        <span className="text-ink">{item.file_name}</span>
        <span>{BITS(item)}</span>
        <span className="end">
          {stateText(item)}
          {busy && (
            <button type="button" className="word" onClick={() => cancel.mutate(item.id)}>
              cancel
            </button>
          )}
          {item.state === "done" && (
            <a className="word" href={`/api/projects/${project}/exports/${item.id}/file`} download={item.file_name}>
              download
            </a>
          )}
          {!busy && (
            <button type="button" className="word" aria-label={`Remove ${item.file_name}`} onClick={() => remove.mutate(item.id)}>
              remove
            </button>
          )}
        </span>
      </p>
      {busy && <ProgressBar share={item.progress} label={`Export of ${item.file_name}`} />}
      {item.accepted && (
        <p className="text-[12px] leading-4 whitespace-pre-line text-ink-2">Exported all the same: {item.accepted}</p>
      )}
      {item.problem && (
        <p className="say" role="alert">
          {item.problem}
        </p>
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
      return `${(item.size_bytes / 1e6).toFixed(1)} MB`;
    case "cancelled":
      return "called off";
    default:
      return "failed";
  }
}
