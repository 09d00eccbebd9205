/** The passes of the project: they run on every shot, after its own. */

import { useQueryClient } from "@tanstack/react-query";
import { api, asked, type Catalogue, type Pass, type ProjectDetail, type Shot } from "../api/client";
import { useProjectSheet } from "../api/queries";
import { sayDone } from "../bench/done";
import { movePass } from "../bench/looks";
import { useBench } from "../bench/store";
import { BeadSwitch } from "../icons/icons";
import { ProjectSentence } from "./ProjectSentence";
import { NumberField } from "../tray/NumberField";
import { MIX } from "../tray/parameters";
import { Button } from "../ui/Button";

const PASS = "/api/projects/{project}/passes/{pass_id}";

type Props = { readonly project: ProjectDetail; readonly shot: Shot; readonly catalogue: Catalogue };

export function ProjectPasses({ project, shot, catalogue }: Props) {
  const client = useQueryClient();
  // an undo of the shot may have taken a pass from every shot, or given it back
  const revision = useBench((state) => state.saved?.revision ?? 0);
  const { data } = useProjectSheet(project.id, revision);
  if (!data || data.sheet.passes.length === 0) return null;
  const path = (pass_id: string) => ({ params: { path: { project: project.id, pass_id } } });
  const after = async (done: Promise<unknown>) => {
    try {
      await done;
    } catch (error) {
      useBench.setState({ problem: error instanceof Error ? error.message : "" });
    }
    await client.invalidateQueries({ queryKey: ["project-sheet", project.id] });
    // the picture is made anew
    useBench.setState(({ at }) => ({ at: at && { ...at } }));
  };
  const remove = async (pass: Pass) => {
    await after(asked(api.DELETE(PASS, path(pass.id))));
    const undo = () => void after(asked(api.POST("/api/projects/{project}/passes/undo", { params: { path: { project: project.id } } })));
    const { length } = project.shots;
    sayDone(`“${pass.name}” no longer runs on ${length === 1 ? "the one shot" : `the ${length} shots`} of ${project.name}.`, undo);
  };
  return (
    <section className="px-5 pt-3.5 pb-1 [&_p]:font-book [&_p]:text-small" aria-label="Passes of the project">
      <h2 className="pb-0.5 text-label font-medium text-ink-3">On every shot of {project.name}</h2>
      {data.sheet.passes.map((pass) => (
        <article key={pass.id} className={pass.on ? "" : "[&_p]:text-ink-3"} aria-label={`Project pass ${pass.name}`}>
          <div className="flex items-center justify-between [&>b]:font-semibold">
            <b>{pass.name}</b>
            <BeadSwitch
              on={pass.on}
              label={`${pass.name}, on or off for every shot`}
              onChange={(on) => void after(asked(api.PATCH(PASS, { ...path(pass.id), body: { on } })))}
            />
          </div>
          <ProjectSentence
            {...{ pass, catalogue }}
            tokens={data.told.find((each) => each.id === pass.id)?.tokens ?? []}
            frame={shot}
            onChange={(side, treatment) => void after(asked(api.PATCH(PASS, { ...path(pass.id), body: { [side]: treatment } })))}
          />
          <div className="flex flex-wrap items-baseline gap-x-3.5 gap-y-1 pt-1">
            <span className="flex items-center gap-1.5 text-label font-medium text-ink-2">
              Mix
              <NumberField
                parameter={MIX}
                className="w-14.5"
                value={pass.mix}
                frame={shot}
                onCommit={(mix) => void after(asked(api.PATCH(PASS, { ...path(pass.id), body: { mix } })))}
              />
            </span>
            <Button title="Moves the pass from the project to the end of this shot’s own" onClick={() => void after(movePass("from-project", pass.id))}>
              to this shot alone
            </Button>
            <Button title="Takes the pass from every shot; can be undone" onClick={() => void remove(pass)}>
              delete
            </Button>
          </div>
        </article>
      ))}
    </section>
  );
}
