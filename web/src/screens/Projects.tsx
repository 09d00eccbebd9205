/** The projects. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, asked, type Project, thumbnailUrl } from "../api/client";
import { Bar } from "./Bar";
import { useProjects } from "../api/queries";
import { RoomButton } from "./RoomButton";
import { Tour } from "./Tour";
import { Button } from "../ui/Button";
import { Line, Say } from "../ui/Words";
import { Field } from "../ui/Field";

export function Projects() {
  const { data, error } = useProjects();
  return (
    <>
      <Bar>
        <span className="flex-1" />
        <RoomButton />
      </Bar>
      <main className="mx-auto h-[calc(100%-var(--spacing-bar))] max-w-245 overflow-y-auto px-8 py-10">
        <h1 className="font-book text-[28px] leading-9 font-medium tracking-[-0.01em]">Projects</h1>
        <Say className="mt-1 mb-5">
          Cut openings into a picture, and let a correction through them, and nowhere else.
        </Say>
        {data && <Tour projects={data} />}
        <NewProject />
        {error && (
          <Say look="sheet" role="alert">
            {error.message}
          </Say>
        )}
        {data?.map((project) => (
          <Row key={project.id} project={project} />
        ))}
        {data?.length === 0 && <Say look="sheet">There is no project yet. Name one above.</Say>}
      </main>
    </>
  );
}

function NewProject() {
  const [name, setName] = useState("");
  const navigate = useNavigate();
  const create = useMutation({
    mutationFn: () => asked(api.POST("/api/projects", { body: { name: name.trim() } })),
    onSuccess: (project) => navigate(`/projects/${project.id}`),
  });
  return (
    <form
      className="mb-6 flex gap-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) create.mutate();
      }}
    >
      <Field
        className="w-70"
        aria-label="Name of a new project"
        placeholder="Name of a new project"
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <Button type="submit" look="line" disabled={!name.trim() || create.isPending}>
        Begin
      </Button>
      {create.error && <span role="alert">{create.error.message}</span>}
    </form>
  );
}

const COVER = "block aspect-3/2 w-full bg-field object-cover";

function Row({ project }: { readonly project: Project }) {
  const [asking, setAsking] = useState(false);
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () => asked(api.DELETE("/api/projects/{project}", { params: { path: { project: project.id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["projects"] }),
  });
  const count = project.shots === 1 ? "1 shot" : `${project.shots} shots`;
  const holes = Array.from({ length: 4 - project.covers.length }, (_, k) => k);
  return (
    <article className="grid grid-cols-[400px_1fr_auto] items-center gap-6 border-t border-[color-mix(in_oklch,var(--color-ink)_20%,var(--color-ground))] py-4">
      <Link to={`/projects/${project.id}`} className="grid grid-cols-4 gap-1" aria-hidden tabIndex={-1}>
        {project.covers.map((shot) => (
          <img key={shot} className={COVER} src={thumbnailUrl({ project: project.id, shot }, { head: 0 })} alt="" />
        ))}
        {holes.map((k) => (
          <i key={k} className={COVER} />
        ))}
      </Link>
      <div>
        <h2 className="font-book text-[19px] leading-6.5 font-medium">
          <Link to={`/projects/${project.id}`}>{project.name}</Link>
        </h2>
        <Say>{count}</Say>
      </div>
      {asking ? (
        <Line as="span">
          Delete it with {count}?
          <Button onClick={() => remove.mutate()}>
            delete
          </Button>
          <Button onClick={() => setAsking(false)}>
            keep
          </Button>
        </Line>
      ) : (
        <Button look="quiet" onClick={() => setAsking(true)}>
          Delete…
        </Button>
      )}
    </article>
  );
}
