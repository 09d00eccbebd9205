/** A project's contact sheet: its shots as they are done, and the place to drop more. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { api, asked, type ProjectDetail, type Shot } from "../api/client";
import { Button } from "../marks/Button";
import { Lens } from "../marks/marks";
import { Bar } from "./Bar";
import { Drop } from "./Drop";
import { ExportDialog } from "./ExportDialog";
import { ExportList } from "./ExportList";
import { useLooks, useProject } from "../api/queries";
import { copied } from "../bench/looks";
import { RoomButton } from "./RoomButton";
import { inOrder, type Order, ORDERS } from "./order";
import { Shots } from "./Shots";
import { Uploads, useUploads } from "./uploads";
import { Waiting } from "./Waiting";

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
        <Link to="/" className="plain">
          Projects
        </Link>
        <span className="sep" />
        <b style={{ fontWeight: 600 }}>{project.name}</b>
        <span style={{ flex: 1 }} />
        <RoomButton />
        <button type="button" className="btn btn-sm plain line" disabled={project.shots.length === 0} onClick={() => setExporting(true)}>
          Export…
        </button>
      </Bar>
      <Side project={project} />
      <main className="board bg-ground pt-2 px-8 pb-6 overflow-y-auto">
        <div className="flex items-center h-10 gap-1 mb-1 [position:sticky] -top-2 bg-ground z-2">
          <label className="find flex gap-2 items-center bg-field h-7 w-68 py-0 px-2.5 text-ink-3 rounded-token mr-2 [box-shadow:inset_0_0_0_1px_var(--color-edge)]">
            <Lens />
            <input
              placeholder="Filter by name or pass"
              aria-label="Filter by name or pass"
              value={words}
              onChange={(event) => setWords(event.currentTarget.value)}
            />
          </label>
          {(["all", "worked", "untouched"] as const).map((each) => (
            <button key={each} type="button" className="plain" aria-pressed={filter === each} onClick={() => setFilter(each)}>
              {{ all: "All", worked: "Worked on", untouched: "Untouched" }[each]} {counts[each]}
            </button>
          ))}
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
          <span style={{ flex: 1 }} />
          {picked.length > 0 && <Chosen {...{ picked, project }} onClear={() => setChosen(new Set())} />}
        </div>
        <Uploads {...uploads} project={project.id} />
        <Shots {...{ project, shots, chosen }} movable={order === "own" && shots.length === project.shots.length} onPick={pick}>
          <Drop onFiles={uploads.add} />
        </Shots>
        {project.shots.length > 0 && shots.length === 0 && <p className="quiet">No shot fits “{words}”.</p>}
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
  const count = project.shots.length === 1 ? "1 still" : `${project.shots.length} stills`;
  return (
    <aside className="aside bg-sheet pt-4 px-0 pb-5 overflow-y-auto">
      <h1>{project.name}</h1>
      <p className="font-face text-label font-medium text-ink-3 py-0 px-5 mt-0.5 mx-0 mb-2">{count}</p>
      <section className="section pt-3 px-5 pb-0 mt-1">
        <h2>Shots</h2>
        <p className="say">Press one to work on it, hold it to see its source, drag it to another place.</p>
      </section>
      <section className="section pt-3 px-5 pb-0 mt-1">
        <h2>Exports</h2>
        <p className="say">Choose shots by the ring at their corner, or export them all.</p>
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
    mutationFn: async () => {
      for (const { id } of laid) {
        const at = { params: { path: { project: project.id, shot: id } } };
        const { revision } = await asked(api.GET("/api/projects/{project}/shots/{shot}/bench", at));
        await asked(api.POST("/api/projects/{project}/shots/{shot}/undo", { ...at, body: { seen: revision } }));
      }
    },
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
          <Button isDisabled={undo.isPending} onPress={() => undo.mutate()}>
            undo
          </Button>
        </span>
      )}
      <select
        className="select select-sm text-field w-33 flex-none"
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
      </select>
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
      <b style={{ fontWeight: 600, whiteSpace: "nowrap" }}>{picked.length} chosen</b>
      <LayLook {...{ picked, project }} />
      <button type="button" className="plain" onClick={onClear}>
        None
      </button>
      <button type="button" className="plain" onClick={() => (asking ? remove.mutate() : setAsking(true))}>
        {asking ? `Yes, remove ${picked.length}` : "Remove…"}
      </button>
    </>
  );
}
