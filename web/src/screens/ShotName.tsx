/** A shot's name: a press opens the shot, a double press or F2 renames it. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type MouseEvent, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, asked, type Shot } from "../api/client";

type Props = { readonly project: string; readonly shot: Shot };

/** A second press within this time means the name, not the shot. */
const TWICE_MS = 260;

export function ShotName({ project, shot }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const navigate = useNavigate();
  const client = useQueryClient();
  const timer = useRef(0);
  const rename = useMutation({
    mutationFn: (name: string) =>
      asked(api.PATCH("/api/projects/{project}/shots/{shot}", { params: { path: { project, shot: shot.id } }, body: { name } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["project", project] }),
  });
  const address = `/projects/${project}/shots/${shot.id}`;
  const press = (event: MouseEvent) => {
    if (event.metaKey || event.ctrlKey || event.detail === 0) return; // a new tab, or Enter: as any link
    event.preventDefault();
    window.clearTimeout(timer.current);
    if (event.detail > 1) setTyped(shot.name);
    else timer.current = window.setTimeout(() => void navigate(address), TWICE_MS);
  };
  const commit = () => {
    const name = typed?.trim().slice(0, 80) ?? "";
    setTyped(null);
    if (name && name !== shot.name) rename.mutate(name);
  };
  if (typed === null) {
    return (
      <Link
        to={address}
        className="block truncate font-semibold text-ink hover:underline"
        title="A double press, or F2, renames it"
        onClick={press}
        onKeyDown={(event) => event.key === "F2" && setTyped(shot.name)}
      >
        {rename.isPending ? rename.variables : shot.name}
      </Link>
    );
  }
  return (
    <input
      className="input input-sm h-6 w-full border-edge bg-field px-1.5"
      aria-label={`Name of ${shot.name}`}
      value={typed}
      ref={(field) => field?.focus()}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === "Enter") commit();
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}
