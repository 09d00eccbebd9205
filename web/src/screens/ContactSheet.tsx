/** A project's contact sheet: its shots as they are done, and the place to drop more. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { api, asked, type ProjectDetail, type Shot } from "../api/client";
import { Button, LOOKS } from "../ui/Button";
import { Lens } from "../icons/icons";
import { Bar, Rule } from "./Bar";
import { Drop } from "./Drop";
import { ExportDialog } from "./ExportDialog";
import { ExportList } from "./ExportList";
import { useLooks, useProject } from "../api/queries";
import { copied, takenBack } from "../bench/looks";
import { RoomButton } from "./RoomButton";
import { inOrder, type Order, ORDERS } from "./order";
import { Shots } from "./Shots";
import { Uploads, useUploads } from "./uploads";
import { Waiting } from "./Waiting";
import { Say } from "../ui/Words";
import { Select } from "../ui/Field";

const CutsDialog = lazy(() => import("./CutsDialog").then((made) => ({ default: made.CutsDialog })));
const StartDialog = lazy(() => import("./StartDialog").then((made) => ({ default: made.StartDialog })));

export function ContactSheet() {
  const { project = "" } = useParams();
  const { data, error } = useProject(project);
  return data ? <Sheet project={data} /> : <Waiting error={error} />;
}

type Filter = "all" | "worked" | "untouched";

function fits(shot: Shot, filter: Filter, words: string): boolean {
  if (filter === "worked" && shot.passes.length === 0) return false;
  if (filter === "untouched" && shot.passes.length > 0) return false;
  const text = [shot.name, ...shot.passes].join(" ").toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

function Sheet({ project }: { readonly project: ProjectDetail }) {
  const [words, setWords] = useState("");
  const [filter, setFilter] = useState<Filter>("all");
  const [order, setOrder] = useState<Order>("own");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [exporting, setExporting] = useState(false);
  const uploads = useUploads(project.id);
  const shots = useMemo(
    () => inOrder(project.shots.filter((shot) => fits(shot, filter, words)), order),
    [project, filter, words, order],
  );
  const picked = project.shots.filter((shot) => chosen.has(shot.id));
  const worked = project.shots.filter((shot) => shot.passes.length > 0).length;
  const counts = { all: project.shots.length, worked, untouched: project.shots.length - worked };
  const pick = (id: string) =>
    setChosen((before) => new Set(before.has(id) ? [...before].filter((each) => each !== id) : [...before, id]));
  return (
    <div className="grid [grid-template:var(--spacing-bar)_minmax(0,_1fr)_/_var(--spacing-sheet)_minmax(0,_1fr)] h-full">
      <Bar>
        <Link to="/" className={LOOKS.quiet}>
          Projects
        </Link>
        <Rule />
        <b className="font-semibold">{project.name}</b>
        <span className="flex-1" />
        <RoomButton />
        <Button look="line" disabled={project.shots.length === 0} onClick={() => setExporting(true)}>
          Export…
        </Button>
      </Bar>
      <Side project={project} />
      <main className="overflow-y-auto bg-ground px-8 pt-2 pb-6">
        <div className="flex items-center h-10 gap-1 mb-1 [position:sticky] -top-2 bg-ground z-2">
          <label className="mr-2 flex h-7 w-68 min-w-24 items-center gap-2 rounded-token bg-field px-2.5 text-ink-3 shadow-[inset_0_0_0_1px_var(--color-edge)] focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-focus">
            <Lens />
            <input
              className="w-0 min-w-0 flex-1 bg-transparent text-ink outline-none"
              placeholder="Filter by name or pass"
              aria-label="Filter by name or pass"
              value={words}
              onChange={(event) => setWords(event.currentTarget.value)}
            />
          </label>
          {(["all", "worked", "untouched"] as const).map((each) => (
            <Button key={each} look="quiet" aria-pressed={filter === each} onClick={() => setFilter(each)}>
              {{ all: "All", worked: "Worked on", untouched: "Untouched" }[each]} {counts[each]}
            </Button>
          ))}
          {/* what can be done to the chosen takes its place */}
          {picked.length === 0 && (
            <select
              className="select select-sm select-ghost w-40"
              aria-label="Order of the shots"
              value={order}
              onChange={(event) => setOrder(event.currentTarget.value as Order)}
            >
              {Object.entries(ORDERS).map(([id, name]) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          )}
          <span className="flex-1" />
          {picked.length > 0 && <Chosen {...{ picked, project }} onClear={() => setChosen(new Set())} />}
        </div>
        <Uploads {...uploads} project={project.id} />
        <Shots {...{ project, shots, chosen }} movable={order === "own" && shots.length === project.shots.length} onPick={pick}>
          <Drop onFiles={uploads.add} />
        </Shots>
        {project.shots.length > 0 && shots.length === 0 && <Say look="sheet">No shot fits “{words}”.</Say>}
      </main>
      {exporting && (
        <ExportDialog
          project={project}
          shots={picked.length > 0 ? picked : project.shots}
          onClose={() => setExporting(false)}
        />
      )}
    </div>
  );
}

function Side({ project }: { readonly project: ProjectDetail }) {
  const count = project.shots.length === 1 ? "1 shot" : `${project.shots.length} shots`;
  return (
    <aside className="overflow-y-auto bg-sheet pt-4 pb-5">
      <h1 className="px-5 font-book text-title font-medium tracking-[-0.005em] wrap-anywhere">{project.name}</h1>
      <p className="font-face text-label font-medium text-ink-3 py-0 px-5 mt-0.5 mx-0 mb-2">{count}</p>
      <section className="mt-1 px-5 pt-3 [&>h2]:mb-1 [&>h2]:font-semibold">
        <h2>Shots</h2>
        <Say>Press one to work on it, hold it to see its source, drag it to another place.</Say>
      </section>
      <section className="mt-1 px-5 pt-3 [&>h2]:mb-1 [&>h2]:font-semibold">
        <h2>Exports</h2>
        <Say>Choose shots by the ring at their corner, or export them all.</Say>
        <ExportList project={project.id} />
      </section>
    </aside>
  );
}

const COPIED = "copied";

/** Lays what was copied, or a kept look, on every chosen shot. */
function LayLook({ picked, project }: Pick<ChosenProps, "picked" | "project">) {
  const client = useQueryClient();
  const looks = useLooks();
  const clip = copied();
  const [laid, setLaid] = useState<readonly Shot[]>([]);
  const lay = useMutation({
    mutationFn: (id: string) => {
      setLaid(picked);
      const to = picked.map((shot) => ({ project: project.id, shot: shot.id }));
      return asked(api.POST("/api/looks/lay", { body: id === COPIED ? { look: clip?.look ?? {}, to } : { id, to } }));
    },
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project.id] }),
  });
  const undo = useMutation({
    mutationFn: () => takenBack(project.id, laid.map(({ id }) => id)),
    onSuccess: () => setLaid([]),
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project.id] }),
  });
  const nothing = !clip && (looks.data?.length ?? 0) === 0;
  return (
    <>
      {(lay.error ?? undo.error) && <span role="alert">{(lay.error ?? undo.error)?.message}</span>}
      {lay.isSuccess && laid.length > 0 && (
        <span role="status" className="flex items-baseline gap-2 whitespace-nowrap text-ink-2">
          laid on {laid.length === 1 ? "1 shot" : `${laid.length} shots`}
          <Button disabled={undo.isPending} onClick={() => undo.mutate()}>
            undo
          </Button>
        </span>
      )}
      <Select
        className="w-33 flex-none"
        aria-label="Lay passes on the chosen shots"
        value=""
        disabled={nothing || lay.isPending}
        title={nothing ? "Copy a pass on a shot, or keep one as a look" : undefined}
        onChange={(event) => lay.mutate(event.currentTarget.value)}
      >
        <option value="">Lay passes…</option>
        {clip && <option value={COPIED}>copied: {clip.name}</option>}
        {looks.data?.map((look) => (
          <option key={look.id} value={look.id}>
            {look.name}
          </option>
        ))}
      </Select>
    </>
  );
}

type ChosenProps = {
  readonly picked: readonly Shot[];
  readonly project: ProjectDetail;
  readonly onClear: () => void;
};

function Chosen({ picked, project, onClear }: ChosenProps) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [starting, setStarting] = useState(false);
  const [cutting, setCutting] = useState(false);
  const clip = picked.length === 1 && picked[0]?.clip ? picked[0] : null;
  const remove = useMutation({
    mutationFn: async () => {
      for (const { id } of picked) {
        const path = { project: project.id, shot: id };
        await asked(api.DELETE("/api/projects/{project}/shots/{shot}", { params: { path } }));
      }
    },
    onSuccess: onClear,
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project.id] }),
  });
  return (
    <>
      {remove.error && <span role="alert">{remove.error.message}</span>}
      <b className="font-semibold whitespace-nowrap">{picked.length} chosen</b>
      <Button look="quiet" onClick={() => setStarting(true)}>
        Start…
      </Button>
      {starting && (
        <Suspense>
          <StartDialog {...{ project }} shots={picked} onClose={() => setStarting(false)} />
        </Suspense>
      )}
      {clip && (
        <Button look="quiet" onClick={() => setCutting(true)}>
          Cuts…
        </Button>
      )}
      {clip && cutting && (
        <Suspense>
          <CutsDialog {...{ project }} shot={clip} onClose={() => setCutting(false)} />
        </Suspense>
      )}
      <LayLook {...{ picked, project }} />
      <Button look="quiet" onClick={onClear}>
        None
      </Button>
      <Button look="quiet" onClick={() => (asking ? remove.mutate() : setAsking(true))}>
        {asking ? `Yes, remove ${picked.length}` : "Remove…"}
      </Button>
    </>
  );
}
