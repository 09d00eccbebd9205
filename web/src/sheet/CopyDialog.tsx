/** Copying a region to other shots, of this project or another; it keeps its place relative to the frame. */

import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Project, Shot } from "../api/client";
import { copyRegion } from "../bench/regions";
import { useBench } from "../bench/store";
import { regionOf } from "../document/edit";
import { Dialog } from "../ui/Dialog";
import { useProject, useProjects } from "../api/queries";
import { Button } from "../ui/Button";
import { Say, WordLine } from "../ui/Words";
import { Select } from "../ui/Field";

type Props = { readonly region: string; readonly shot: Shot; readonly onClose: () => void };

export function CopyDialog({ region, shot, onClose }: Props) {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const projects = useProjects();
  const [project, setProject] = useState(at?.project ?? "");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const copy = useMutation({ mutationFn: () => copyRegion(region, chosen.map((each) => ({ project, shot: each }))) });
  return (
    <Dialog title={`Copy “${regionOf(sheet, region)?.name ?? ""}” to other shots`} onClose={onClose}>
      <div className="grid gap-2.5 mt-3.5 max-w-140">
        <Say>It keeps its place relative to the frame, and lies on their shelves until a pass uses it.</Say>
        <Projects
          list={projects.data ?? []}
          project={project}
          onPick={(id) => {
            setProject(id);
            setChosen([]);
          }}
        />
        <Shots {...{ project, chosen }} except={shot.id} onChange={setChosen} />
        {copy.error && (
          <Say role="alert">
            {copy.error.message}
          </Say>
        )}
        {copy.data && <Say>Copied to {copy.data.length === 1 ? "1 shot" : `${copy.data.length} shots`}.</Say>}
        <div className="flex flex-wrap gap-2.5">
          <Button
            look="line"
            disabled={chosen.length === 0 || copy.isPending || copy.isSuccess}
            onClick={() => copy.mutate()}
          >
            Copy
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

type ProjectsProps = {
  readonly list: readonly Project[];
  readonly project: string;
  readonly onPick: (id: string) => void;
};

function Projects({ list, project, onPick }: ProjectsProps) {
  if (list.length < 2) return null;
  return (
    <WordLine as="label">
      Project
      <Select size="small" value={project} onChange={(event) => onPick(event.currentTarget.value)}>
        {list.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </Select>
    </WordLine>
  );
}

type ShotsProps = {
  readonly project: string;
  readonly chosen: readonly string[];
  readonly except: string;
  readonly onChange: (chosen: readonly string[]) => void;
};

function Shots({ project, chosen, except, onChange }: ShotsProps) {
  const detail = useProject(project);
  const shots = detail.data?.shots.filter((each) => each.id !== except) ?? [];
  if (detail.data && shots.length === 0) return <Say>There is no other shot in this project.</Say>;
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-1 font-medium">
      {shots.map((each) => (
        <label key={each.id} className="flex min-h-6 items-center gap-2">
          <input
            type="checkbox"
            className="accent-ink"
            checked={chosen.includes(each.id)}
            onChange={(event) =>
              onChange(event.currentTarget.checked ? [...chosen, each.id] : chosen.filter((id) => id !== each.id))
            }
          />
          {each.name}
        </label>
      ))}
    </div>
  );
}
