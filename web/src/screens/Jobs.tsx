/** What the project exports just now, as a small ring in the bar; a press lists it. Nothing runs: nothing shows. */

import { lazy, Suspense, useState } from "react";
import type { Export } from "../api/client";
import { useExports } from "../api/queries";
import { Button } from "../ui/Button";

const ExportsDialog = lazy(() => import("./ExportsDialog").then((made) => ({ default: made.ExportsDialog })));
const busy = ({ state }: Export) => state === "waiting" || state === "running";

/** The exports that ran while one was here and that one has not looked at since. */
function useUnseen(exports: readonly Export[]) {
  const [watched, setWatched] = useState<ReadonlySet<string>>(new Set());
  const running = exports.filter(busy).map(({ id }) => id);
  if (running.some((id) => !watched.has(id))) setWatched(new Set([...watched, ...running]));
  return { unseen: exports.filter(({ id }) => watched.has(id)), forget: () => setWatched(new Set(running)) };
}

export function Jobs({ project }: { readonly project: string }) {
  const { data = [] } = useExports(project);
  const { unseen, forget } = useUnseen(data);
  const [open, setOpen] = useState(false);
  const share = unseen.reduce((sum, each) => sum + (busy(each) ? each.progress : 1), 0) / Math.max(unseen.length, 1);
  const failed = unseen.some(({ state }) => state === "failed");
  const left = unseen.filter(busy).length;
  const says = failed ? "An export failed" : left > 0 ? `${left === 1 ? "1 export runs" : `${left} exports run`}, ${Math.round(share * 100)} %` : "Exported";
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
