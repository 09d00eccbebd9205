/** The jobs of a project that are no exports: files that are read, clips looked through. */

import type { Job } from "../api/client";
import { runs, useEndJob, useJobs } from "../api/queries";
import { ProgressBar } from "../icons/icons";
import { Button } from "../ui/Button";
import { Line, LineEnd, Say } from "../ui/Words";

/** `but`: names of files that are told of elsewhere. */
export function JobList({ project, but = [] }: { readonly project: string; readonly but?: readonly string[] }) {
  const end = useEndJob(project);
  const told = useJobs(project).filter((each) => (runs(each) || each.state === "failed") && !but.includes(each.name));
  if (told.length === 0) return null;
  return (
    <section aria-label="Jobs" className="mb-2.5 grid max-w-105 gap-1">
      {told.map((each) => (
        <div key={each.id} data-job={each.state}>
          <Line>
            <span className="text-ink">{each.name}</span>
            <LineEnd>
              {saidOf(each)}
              <Button aria-label={`${runs(each) ? "Cancel" : "Dismiss"} ${each.name}`} onClick={() => end.mutate(each.id)}>
                {runs(each) ? "cancel" : "dismiss"}
              </Button>
            </LineEnd>
          </Line>
          {runs(each) && <ProgressBar share={each.progress} label={saidOf(each)} />}
          {each.problem && <Say role="alert">{each.problem}</Say>}
        </div>
      ))}
    </section>
  );
}

function saidOf({ kind, state, progress }: Job): string {
  const doing = { cuts: "looking for cuts", follow: "following", find: "looking for faces and text" }[kind] ?? "reading";
  if (state === "waiting") return "waits";
  return state === "running" ? `${doing}, ${Math.round(progress * 100)} %` : "did not end well";
}
