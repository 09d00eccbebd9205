/** Cuts of a clip: looked for, looked at, and the clip split there; or its pieces made one clip again. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Address, api, asked, frameUrl, type ProjectDetail, type Shot } from "../api/client";
import { runs, useEndJob, useJobs } from "../api/queries";
import { timeOf } from "../document/time";
import { ProgressBar } from "../icons/icons";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Field } from "../ui/Field";
import { Say, WordLine } from "../ui/Words";

type Props = { readonly project: ProjectDetail; readonly shot: Shot; readonly onClose: () => void };

export function CutsDialog(props: Props) {
  const { project, shot, onClose } = props;
  const pieces = project.shots.filter((each) => each.clip?.file === shot.clip?.file).length;
  return (
    <Dialog title={`Cuts of “${shot.name}”`} onClose={onClose}>
      <div className="mt-3.5 grid gap-3">
        {shot.clip?.piece && <OneAgain {...props} pieces={pieces} />}
        <Split {...props} />
      </div>
    </Dialog>
  );
}

function useChanged(project: string, onClose: () => void) {
  const client = useQueryClient();
  return {
    onSuccess: onClose,
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project] }),
  };
}

function OneAgain({ project, shot, onClose, pieces }: Props & { readonly pieces: number }) {
  const path = { project: project.id, shot: shot.id };
  const join = useMutation({
    mutationFn: () => asked(api.POST("/api/projects/{project}/shots/{shot}/join", { params: { path } })),
    ...useChanged(project.id, onClose),
  });
  return (
    <>
      <Say>It is a piece of a file that {pieces === 1 ? "has no other piece here" : `was split into ${pieces}`}.</Say>
      <span>
        <Button look="line" disabled={join.isPending} onClick={() => join.mutate()}>
          Make it one clip again
        </Button>
      </span>
      {join.error && <Say role="alert">{join.error.message}</Say>}
    </>
  );
}

function Split({ project, shot, onClose }: Props) {
  const frames = shot.clip?.frames ?? 0;
  const path = { project: project.id, shot: shot.id };
  const [left, setLeft] = useState<readonly number[]>([]);
  const [typed, setTyped] = useState("");
  const [job, setJob] = useState("");
  const found = useJobs(project.id).find(({ id }) => id === job);
  const client = useQueryClient();
  const look = useMutation({
    mutationFn: () => asked(api.POST("/api/projects/{project}/shots/{shot}/cuts", { params: { path } })),
    onSuccess: ({ id }) => setJob(id),
    onSettled: () => client.invalidateQueries({ queryKey: ["jobs", project.id] }),
  });
  const own = numbersIn(typed);
  const wrong = own.some((each) => !(each >= 1 && each < frames));
  const at = [...new Set([...(found?.cuts ?? []).filter((each) => !left.includes(each)), ...own])].toSorted((a, b) => a - b);
  const split = useMutation({
    mutationFn: () => asked(api.POST("/api/projects/{project}/shots/{shot}/split", { params: { path }, body: { at } })),
    ...useChanged(project.id, onClose),
  });
  const pick = (frame: number) => setLeft((before) => (before.includes(frame) ? before.filter((each) => each !== frame) : [...before, frame]));
  return (
    <>
      {!found && (
        <span>
          <Button look="line" disabled={look.isPending} onClick={() => look.mutate()}>
            Look for cuts
          </Button>
        </span>
      )}
      {found && runs(found) && <Looking project={project.id} id={found.id} share={found.progress} />}
      {(look.error ?? found?.problem) && <Say role="alert">{look.error?.message ?? found?.problem}</Say>}
      {found?.state === "done" && <Found at={path} base={shot.clip?.base ?? 25} cuts={found.cuts ?? []} left={left} onPick={pick} />}
      <WordLine as="label">
        Split before frame
        <Field className="w-40 tabular-nums" value={typed} placeholder={`1 to ${frames - 1}`} aria-label="Split before frames" onChange={(event) => setTyped(event.currentTarget.value)} />
        numbers with a comma between
      </WordLine>
      {wrong && <Say role="alert">This clip is split before frames from 1 to {frames - 1}.</Say>}
      {split.error && <Say role="alert">{split.error.message}</Say>}
      <span>
        <Button look="fill" disabled={wrong || at.length === 0 || split.isPending} onClick={() => split.mutate()}>
          {at.length === 0 ? "Split" : `Split into ${at.length + 1} shots`}
        </Button>
      </span>
      <Say look="small">The shots share the file, and each keeps the passes that the clip has now.</Say>
    </>
  );
}

function Looking({ project, id, share }: { readonly project: string; readonly id: string; readonly share: number }) {
  const end = useEndJob(project);
  return (
    <div className="grid max-w-105 gap-1">
      <WordLine>
        Looking at each frame, {Math.round(share * 100)} %
        <Button onClick={() => end.mutate(id)}>cancel</Button>
      </WordLine>
      <ProgressBar share={share} label="Looking for cuts" />
    </div>
  );
}

type FoundProps = {
  readonly at: Address;
  readonly base: number;
  readonly cuts: readonly number[];
  readonly left: readonly number[];
  readonly onPick: (frame: number) => void;
};

/** The last frame before and the first after each cut, so that one sees whether it is one. */
function Found({ at, base, cuts, left, onPick }: FoundProps) {
  if (cuts.length === 0) return <Say>No cut was found. Fades and dissolves are not looked for.</Say>;
  return (
    <>
      <Say>
        {cuts.length === 1 ? "1 cut was found" : `${cuts.length} cuts were found`}, each with the frame before it. Fades and dissolves are not looked for.
      </Say>
      <div className="grid max-h-72 grid-cols-2 gap-3 overflow-y-auto" role="group" aria-label="Cuts found">
        {cuts.map((frame) => (
          <label key={frame} className="grid gap-1 text-label font-medium text-ink-2">
            <span className={`grid grid-cols-2 gap-0.5 bg-field ${left.includes(frame) ? "opacity-40" : ""}`}>
              <img className="aspect-video w-full object-contain" src={frameUrl(at, frame - 1)} alt="" />
              <img className="aspect-video w-full object-contain" src={frameUrl(at, frame)} alt="" />
            </span>
            <span className="flex min-h-6 items-center gap-2">
              <input type="checkbox" className="accent-ink" checked={!left.includes(frame)} onChange={() => onPick(frame)} />
              frame {frame}, {timeOf(frame, base)}
            </span>
          </label>
        ))}
      </div>
    </>
  );
}

function numbersIn(text: string): readonly number[] {
  return text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((each) => (/^\d+$/.test(each) ? Number(each) : Number.NaN));
}
