/** The projects. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, asked, type Project, thumbnailUrl } from "../api/client";
import { Bar } from "./Bar";
import { useProjects } from "../api/queries";
import { RoomButton } from "./RoomButton";
import { Tour } from "./Tour";

export function Projects() {
  const { data, error } = useProjects();
  return (
    <>
      <Bar>
        <span style={{ flex: 1 }} />
        <RoomButton />
      </Bar>
      <main className="projects max-w-245 my-0 mx-auto py-10 px-8 [height:calc(100%_-_var(--spacing-bar))] overflow-y-auto">
        <h1>Projects</h1>
        <p className="say" style={{ margin: "4px 0 20px" }}>
          Cut openings into a picture, and let a correction through them, and nowhere else.
        </p>
        {data && <Tour projects={data} />}
        <NewProject />
        {error && (
          <p className="quiet" role="alert">
            {error.message}
          </p>
        )}
        {data?.map((project) => (
          <Row key={project.id} project={project} />
        ))}
        {data?.length === 0 && <p className="quiet">There is no project yet. Name one above.</p>}
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
      style={{ display: "flex", gap: 10, marginBottom: 24 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) create.mutate();
      }}
    >
      <input
        className="input input-sm text-field"
        style={{ width: 280 }}
        aria-label="Name of a new project"
        placeholder="Name of a new project"
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <button type="submit" className="btn btn-sm plain line" disabled={!name.trim() || create.isPending}>
        Begin
      </button>
      {create.error && <span role="alert">{create.error.message}</span>}
    </form>
  );
}

function Row({ project }: { readonly project: Project }) {
  const [asking, setAsking] = useState(false);
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () => asked(api.DELETE("/api/projects/{project}", { params: { path: { project: project.id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["projects"] }),
  });
  const count = project.shots === 1 ? "1 still" : `${project.shots} stills`;
  const holes = Array.from({ length: 4 - project.covers.length }, (_, k) => k);
  return (
    <article className="project-row grid [grid-template-columns:400px_1fr_auto] gap-6 items-center py-4 px-0 [border-top:1px_solid_color-mix(in_oklch,_var(--color-ink)_20%,_var(--color-ground))]">
      <Link to={`/projects/${project.id}`} className="covers grid [grid-template-columns:repeat(4,_1fr)] gap-1" aria-hidden tabIndex={-1}>
        {project.covers.map((shot) => (
          <img key={shot} src={thumbnailUrl({ project: project.id, shot }, 0)} alt="" />
        ))}
        {holes.map((k) => (
          <i key={k} />
        ))}
      </Link>
      <div>
        <h2>
          <Link to={`/projects/${project.id}`}>{project.name}</Link>
        </h2>
        <p className="say">{count}</p>
      </div>
      {asking ? (
        <span className="line-item">
          Delete it with {count}?
          <button type="button" className="word" onClick={() => remove.mutate()}>
            delete
          </button>
          <button type="button" className="word" onClick={() => setAsking(false)}>
            keep
          </button>
        </span>
      ) : (
        <button type="button" className="plain" onClick={() => setAsking(true)}>
          Delete…
        </button>
      )}
    </article>
  );
}
