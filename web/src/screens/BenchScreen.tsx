/** The bench: sheet, picture, tray. */

import { lazy, type ReactNode, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { Catalogue, ProjectDetail, Shot } from "../api/client";
import { beginDrawing } from "../bench/begin";
import { takeBackDone } from "../bench/done";
import { stopPlaying } from "../bench/playing";
import { type Actions, useKeys } from "../bench/keys";
import { changeRoom } from "../bench/theme";
import { open, reconcile } from "../bench/saving";
import { useBench } from "../bench/store";
import { fitted, zoomedAt } from "../document/zoom";
import { Button } from "../ui/Button";
import { SheetPanel } from "../sheet/SheetPanel";
import { Stage } from "../stage/Stage";
import { Tray } from "../tray/Tray";
import { ErrorBoundary } from "../ui/ErrorBoundary";
import { BenchBar } from "./BenchBar";
import { useCatalogue, useProject } from "../api/queries";
import { Readings } from "./Readings";
import { Waiting } from "./Waiting";

// what opens by a word or a key comes when it is opened
const ExportDialog = lazy(async () => ({ default: (await import("./ExportDialog")).ExportDialog }));
const KeysDialog = lazy(async () => ({ default: (await import("./KeysDialog")).KeysDialog }));
const SnapshotsDialog = lazy(async () => ({ default: (await import("./SnapshotsDialog")).SnapshotsDialog }));
const StartPanel = lazy(async () => ({ default: (await import("../sheet/StartPanel")).StartPanel }));
const Ribbon = lazy(async () => ({ default: (await import("../stage/Ribbon")).Ribbon }));
const Ruler = lazy(async () => ({ default: (await import("../ruler/Ruler")).Ruler }));
const Scopes = lazy(async () => ({ default: (await import("../stage/Scopes")).Scopes }));
const Variants = lazy(async () => ({ default: (await import("../stage/Variants")).Variants }));

// a strip takes its row once it is there: its code may still be on its way
const ROWS =
  "grid-rows-[minmax(0,1fr)_var(--spacing-readings)_auto] has-data-strip:grid-rows-[minmax(0,1fr)_auto_var(--spacing-readings)_auto]";
/** A clip has its ruler between the readings and the tray. */
const CLIP_ROWS =
  "grid-rows-[minmax(0,1fr)_var(--spacing-readings)_8rem_auto] has-data-strip:grid-rows-[minmax(0,1fr)_auto_var(--spacing-readings)_8rem_auto]";
/** The address follows the hand after so long. */
const REST_MS = 400;

export function BenchScreen() {
  const { project = "", shot = "" } = useParams();
  const detail = useProject(project);
  const catalogue = useCatalogue();
  const found = detail.data?.shots.find((each) => each.id === shot);
  if (detail.data && catalogue.data && found) {
    return <Bench key={found.id} project={detail.data} shot={found} catalogue={catalogue.data} />;
  }
  const missing = detail.data && !found ? new Error("There is no such shot. It may have been removed.") : null;
  return <Waiting error={missing ?? detail.error ?? catalogue.error} />;
}

type Props = { readonly project: ProjectDetail; readonly shot: Shot; readonly catalogue: Catalogue };
type Open = "none" | "export" | "keys" | "snapshots";

function Bench({ project, shot, catalogue }: Props) {
  const navigate = useNavigate();
  const [dialog, setDialog] = useState<Open>("none");
  const alone = useBench((state) => state.fullscreen);
  const starting = useBench((state) => state.starting);
  const strip = useBench((state) => state.panel);

  const [search, setSearch] = useSearchParams();
  // what was asked for as the bench was set up: news of the project must not open the shot anew
  const asked = useRef({ frame: Number.parseInt(search.get("frame") ?? "", 10), shot });
  useEffect(() => {
    const { frame, shot: opened } = asked.current;
    void open({ project: project.id, shot: opened.id }, opened, Number.isNaN(frame) ? null : frame);
    return stopPlaying;
  }, [project.id]);
  const frame = useBench((state) => (state.at?.shot === shot.id ? state.frame : null));
  useEffect(() => {
    // the place in time stands in the address, once the hand rests
    if (frame === null) return;
    const timer = setTimeout(() => setSearch({ frame: String(frame) }, { replace: true }), REST_MS);
    return () => clearTimeout(timer);
  }, [frame, setSearch]);

  const actions = useMemo<Actions>(() => {
    const at = project.shots.findIndex((each) => each.id === shot.id);
    return {
      onRegion: () => beginDrawing(null, "add"),
      onExport: () => setDialog("export"),
      onKeys: () => setDialog("keys"),
      onRoom: changeRoom,
      onShot: (by) => {
        const next = project.shots[at + by];
        if (next) void navigate(`/projects/${project.id}/shots/${next.id}`);
      },
      onZoom: (to) => zoomTo(to, shot),
      picture: shot,
    };
  }, [project, shot, navigate]);
  useKeys(actions);

  return (
    <div className={`relative grid h-full ${alone ? "grid-cols-1 grid-rows-1" : "grid-cols-[var(--spacing-sheet)_minmax(0,1fr)] grid-rows-[var(--spacing-bar)_minmax(0,1fr)]"}`}>
      {!alone && <BenchBar {...{ project, shot }} {...actions} onSnapshots={() => setDialog("snapshots")} />}
      {!alone && (
        <ErrorBoundary what="The sheet">
          <SheetPanel {...{ project, shot, catalogue }} />
        </ErrorBoundary>
      )}
      <main className={`relative grid min-h-0 min-w-0 ${alone ? "grid-rows-1" : shot.clip ? CLIP_ROWS : ROWS}`}>
        <ErrorBoundary what="The picture">
          <Stage {...{ project, shot, catalogue }} />
        </ErrorBoundary>
        {!alone && strip !== "none" && (
          <Part what="The strip">
            {strip === "ribbon" && <Ribbon shot={shot} />}
            {strip === "variants" && <Variants {...{ shot, catalogue }} />}
            {strip === "scopes" && <Scopes />}
          </Part>
        )}
        {!alone && <Readings shot={shot} />}
        {!alone && shot.clip && (
          <Part what="The ruler" fallback={<div />}>
            <Ruler shot={shot} clip={shot.clip} />
          </Part>
        )}
        {!alone && (
          <ErrorBoundary what="The tray">
            <Tray {...{ catalogue, shot }} />
          </ErrorBoundary>
        )}
        <Notice />
        <DoneNotice />
        {starting && !alone && (
          <Part what="The starters">
            <StartPanel {...{ shot, catalogue }} />
          </Part>
        )}
      </main>
      <Part what="The dialog">
        {dialog === "export" && <ExportDialog project={project} shots={[shot]} onClose={() => setDialog("none")} />}
        {dialog === "snapshots" && <SnapshotsDialog at={{ project: project.id, shot: shot.id }} onClose={() => setDialog("none")} />}
        {dialog === "keys" && <KeysDialog onClose={() => setDialog("none")} />}
      </Part>
    </div>
  );
}

/** A part of the bench that is loaded when it is opened. */
function Part({ what, fallback = null, children }: { readonly what: string; readonly fallback?: ReactNode; readonly children: ReactNode }) {
  return (
    <ErrorBoundary what={what}>
      <Suspense fallback={fallback}>{children}</Suspense>
    </ErrorBoundary>
  );
}

function zoomTo(to: "fit" | "one" | "in" | "out", shot: Shot): void {
  const { stage, zoom } = useBench.getState();
  if (!stage) return;
  const from = zoom ?? fitted(stage, shot);
  const centre = { x: stage.width / 2, y: stage.height / 2 };
  const factor = { fit: 1, one: 1 / from.scale, in: 1.25, out: 0.8 }[to];
  useBench.setState({ zoom: to === "fit" ? null : zoomedAt(from, factor, centre) });
}

function dismiss(): void {
  const { saving } = useBench.getState();
  useBench.setState({ problem: "", saving: saving === "refused" ? "saved" : saving });
}

/** What was just done, and its undo. */
function DoneNotice() {
  const done = useBench((state) => state.done);
  const problem = useBench((state) => state.problem);
  if (!done || problem) return null;
  return (
    <div className="absolute left-[50%] top-4 [transform:translateX(-50%)] bg-sheet text-ink [box-shadow:inset_0_0_0_1px_var(--color-edge)] rounded-token py-2 px-3.5 font-book text-small font-normal flex gap-3.5 items-center max-w-[86%] z-5" role="status">
      <span>{done.says}</span>
      <Button onClick={takeBackDone}>undo</Button>
    </div>
  );
}

function Notice() {
  const saving = useBench((state) => state.saving);
  const problem = useBench((state) => state.problem);
  const picture = useBench((state) => state.picture);
  if (!problem) return null;
  // what goes on being tried goes away by itself
  const passing = saving === "offline" || saving === "stale" || picture === "failed";
  return (
    <div className="absolute left-[50%] top-4 [transform:translateX(-50%)] bg-sheet text-ink [box-shadow:inset_0_0_0_1px_var(--color-edge)] rounded-token py-2 px-3.5 font-book text-small font-normal flex gap-3.5 items-center max-w-[86%] z-5" role="alert">
      <span>{problem}</span>
      {saving === "stale" && (
        <>
          <Button title="Takes what was saved elsewhere; what you changed since goes" onClick={() => void reconcile(false)}>
            look at the newest
          </Button>
          <Button title="Lays your version over what was saved elsewhere, as a step that can be undone" onClick={() => void reconcile(true)}>
            keep mine
          </Button>
        </>
      )}
      {!passing && (
        <Button onClick={dismiss}>
          dismiss
        </Button>
      )}
    </div>
  );
}
