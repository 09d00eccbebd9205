/** Begins a pass on each of several shots, its values read from each; vignettes come to one level. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, asked, type ProjectDetail, type Shot } from "../api/client";
import { useCatalogue } from "../api/queries";
import { takenBack } from "../bench/looks";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Dialog } from "../ui/Dialog";
import { Field, Select } from "../ui/Field";
import { Line, LineEnd, Say, WordLine } from "../ui/Words";

type Props = { readonly project: ProjectDetail; readonly shots: readonly Shot[]; readonly onClose: () => void };

const VIGNETTE = "vignette";
const LEVEL = "1.2";
const LEVELS = [
  { id: "level", name: "one level on all" },
  { id: "own", name: "as each shot suggests" },
] as const;

export function StartDialog({ project, shots, onClose }: Props) {
  const catalogue = useCatalogue();
  const [starter, setStarter] = useState(VIGNETTE);
  const [how, setHow] = useState<"level" | "own">("level");
  const [level, setLevel] = useState(LEVEL);
  const client = useQueryClient();
  const stops = Number(level.replace(",", ".").replace("−", "-"));
  const levelled = starter === VIGNETTE && how === "level";
  const start = useMutation({
    mutationFn: () =>
      asked(
        api.POST("/api/projects/{project}/starts", {
          params: { path: { project: project.id } },
          body: { starter, level: levelled ? -Math.abs(stops) : null, shots: shots.map(({ id }) => id) },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project.id] }),
  });
  const undo = useMutation({
    mutationFn: () => takenBack(project.id, (start.data ?? []).filter(({ changed }) => changed).map(({ shot }) => shot)),
    onSuccess: () => start.reset(),
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project.id] }),
  });
  const told = catalogue.data?.starters.find(({ id }) => id === starter);
  const many = shots.length === 1 ? "1 shot" : `${shots.length} shots`;
  const problem = start.error ?? undo.error;
  const wrong = levelled && !(Math.abs(stops) >= 0.1 && Math.abs(stops) <= 3);
  return (
    <Dialog title={`Start a pass on ${many}`} onClose={onClose}>
      <div className="mt-3.5 grid max-w-140 gap-3">
        <WordLine as="label">
          Pass
          <Select value={starter} onChange={(event) => (setStarter(event.currentTarget.value), start.reset())}>
            {catalogue.data?.starters.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </WordLine>
        <Say>{told?.says} Its values are read from each shot, of a clip from the frame on its card.</Say>
        {starter === VIGNETTE && (
          <div className="grid gap-2">
            <Choice label="How dark" look="quiet" options={[...LEVELS]} value={how} onChange={setHow} />
            {how === "level" && (
              <WordLine as="label">
                Corners at −
                <Field className="w-16 text-right tabular-nums" inputMode="decimal" value={level} onChange={(event) => setLevel(event.currentTarget.value)} aria-label="Corners, stops below the middle" />
                EV, the shot’s own falloff counted in
              </WordLine>
            )}
            {wrong && <Say role="alert">Choose between 0.1 and 3 stops.</Say>}
          </div>
        )}
        {problem && <Say role="alert">{problem.message}</Say>}
        {start.data && (
          <section aria-label="What was done" className="grid gap-1">
            {start.data.map(({ shot, says }) => (
              <Line key={shot}>
                <span className="text-ink">{shots.find(({ id }) => id === shot)?.name}</span>
                <LineEnd>{says}</LineEnd>
              </Line>
            ))}
          </section>
        )}
        <div className="flex items-center gap-3">
          <Button look="line" disabled={wrong || start.isPending || start.isSuccess} onClick={() => start.mutate()}>
            {start.isPending ? "Starting…" : "Start"}
          </Button>
          {start.isSuccess && (
            <Button disabled={undo.isPending} onClick={() => undo.mutate()}>
              undo on all
            </Button>
          )}
        </div>
      </div>
    </Dialog>
  );
}
