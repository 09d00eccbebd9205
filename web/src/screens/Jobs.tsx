/** What runs for the project just now, as a small ring in the bar; a press lists it. Nothing runs: nothing shows. */

import { lazy, Suspense, useState } from "react";
import { runs as busy, useExports, useJobs } from "../api/queries";
import { Button } from "../ui/Button";

const ExportsDialog = lazy(() => import("./ExportsDialog").then((made) => ({ default: made.ExportsDialog })));
type Runs = { readonly id: string; readonly state: string; readonly progress: number };

/** What ran while one was here and that one has not looked at since. */
function useUnseen(exports: readonly Runs[]) {
  const [watched, setWatched] = useState<ReadonlySet<string>>(new Set());
  const running = exports.filter(busy).map(({ id }) => id);
  if (running.some((id) => !watched.has(id))) setWatched(new Set([...watched, ...running]));
  return { unseen: exports.filter(({ id }) => watched.has(id)), forget: () => setWatched(new Set(running)) };
}

export function Jobs({ project }: { readonly project: string }) {
  const { data = [] } = useExports(project);
  const jobs = useJobs(project);
  const { unseen, forget } = useUnseen([...data, ...jobs]);
  const [open, setOpen] = useState(false);
  const share = unseen.reduce((sum, each) => sum + (busy(each) ? each.progress : 1), 0) / Math.max(unseen.length, 1);
  const failed = unseen.some(({ state }) => state === "failed");
  const left = unseen.filter(busy).length;
  const files = jobs.filter(busy).length;
  const what = files > 0 ? count(left, "thing runs", "things run") : count(left, "export runs", "exports run");
  const says = failed ? "Something failed" : left > 0 ? `${what}, ${Math.round(share * 100)} %` : "Done";
  return (
    <>
      {unseen.length > 0 && (
        <Button look="icon" aria-label={says} title={says} onClick={() => setOpen(true)}>
          <Ring share={share} failed={failed} />
        </Button>
      )}
      {open && (
        <Suspense>
          <ExportsDialog
            project={project}
            onClose={() => {
              forget();
              setOpen(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}

const count = (many: number, one: string, more: string) => (many === 1 ? `1 ${one}` : `${many} ${more}`);

const ROUND = 2 * Math.PI * 6;

function Ring({ share, failed }: { readonly share: number; readonly failed: boolean }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" fill="none" aria-hidden>
      <circle cx="8" cy="8" r="6" stroke="var(--color-edge)" strokeWidth="2" />
      <circle cx="8" cy="8" r="6" stroke="var(--color-ink)" strokeWidth="2" strokeDasharray={`${share * ROUND} ${ROUND}`} transform="rotate(-90 8 8)" />
      {failed && <path d="M8 5v3.5M8 10v1" stroke="var(--color-ink)" strokeWidth="1.5" />}
    </svg>
  );
}
