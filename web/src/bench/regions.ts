/** What is done to whole regions with the server's help: mirrored, imported, exported, copied. */

import { api, asked, type Copied, got, posted } from "../api/client";
import { DRAFT, onDraft } from "../api/draft";
import { regionOf } from "../document/edit";
import { beginDrawn, type Draw } from "./begin";
import { save } from "../api/save";
import { onShot, onThisDraft } from "./request";
import { change } from "./saving";
import { select, useBench } from "./store";



export async function mirror(region: string, part: string | null): Promise<void> {
  const made = await onThisDraft((path) =>
    asked(
      api.POST(`${DRAFT}/mirror`, {
        params: { path },
        body: { region, part },
      }),
    ),
  );
  if (made) change(made.sheet, part ? "mirror a part" : "mirror a region");
}

/** Lets a curve follow the way of the pen it was drawn by, within another distance. */
export async function follow(region: string, part: string, tolerance: number): Promise<void> {
  const made = await onThisDraft((path) =>
    asked(
      api.POST(`${DRAFT}/follow`, {
        params: { path },
        body: { region, part, tolerance },
      }),
    ),
  );
  if (made) change(made.sheet, "follow the hand");
}

/** Keeps a picture as a matte and makes it a region, or a part of one. */
export async function importMatte(draw: Draw, file: File): Promise<void> {
  const made = await onShot((path) => sent(`/api/projects/${path.project}/shots/${path.shot}/mattes`, file));
  if (made) await beginDrawn({ ...draw, part: "matte" }, { file: made.file }, []);
}

async function sent(address: string, file: File): Promise<{ readonly file: string }> {
  const form = new FormData();
  form.append("file", file);
  return (await posted(address, form)).json();
}

export async function importOutlines(draw: Draw, file: File): Promise<void> {
  const svg = await file.text();
  const name = file.name.replace(/\.[^.]*$/, "").slice(0, 60) || "outlines";
  const made = await onThisDraft((path) =>
    asked(
      api.POST(`${DRAFT}/outlines`, {
        params: { path },
        body: { svg, name, region: draw.region, join: draw.join },
      }),
    ),
  );
  if (!made) return;
  change(made.sheet, "outlines from a file");
  select({ kind: "where", pass: draw.pass, region: made.id, part: null });
}

export async function exportOutlines(region: string): Promise<void> {
  const text = await onThisDraft(async ({ project, shot, draft }) =>
    (await got(`/api/projects/${project}/shots/${shot}/drafts/${draft}/svg`, { region })).text(),
  );
  if (text === null) return;
  const name = regionOf(useBench.getState().sheet, region)?.name ?? "region";
  save(new Blob([text], { type: "image/svg+xml" }), `${name}.svg`);
}

export async function copyRegion(region: string, to: { project: string; shot: string }[]): Promise<Copied[]> {
  const { at, sheet } = useBench.getState();
  if (!at) return [];
  return onDraft(at, sheet, (path) => asked(api.POST(`${DRAFT}/copy-region`, { params: { path }, body: { region, to } })));
}
