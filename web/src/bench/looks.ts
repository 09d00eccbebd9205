/** Looks: passes kept or copied, to be laid on other shots; and passes moved to the project. */

import { api, asked, type Bench, type Look, Refusal } from "../api/client";
import { DRAFT, onDraft } from "../api/draft";
import { adopt, settled } from "./saving";
import { useBench } from "./store";

const SHOT = "/api/projects/{project}/shots/{shot}";

/** What was copied last, here or in another tab. */
const CLIPBOARD = "calado-passes";

export type Copied = { readonly name: string; readonly look: Record<string, unknown> };

function told(error: unknown): void {
  useBench.setState({ problem: error instanceof Error ? error.message : "That did not work." });
}

/** Keeps a pass as a look. */
export async function keepLook(pass: string, name: string): Promise<Look | null> {
  const { at, sheet } = useBench.getState();
  if (!at) return null;
  try {
    const body = { passes: [pass], name };
    return await onDraft(at, sheet, (path) => asked(api.POST(`${DRAFT}/looks`, { params: { path }, body })));
  } catch (error) {
    told(error);
    return null;
  }
}

/** Copies passes, to be pasted on other shots. */
export async function copyPasses(passes: readonly string[], name: string): Promise<boolean> {
  const { at, sheet } = useBench.getState();
  if (!at) return false;
  try {
    const body = { passes: [...passes], name: name.slice(0, 60) };
    const look = await onDraft(at, sheet, (path) => asked(api.POST(`${DRAFT}/take`, { params: { path }, body })));
    localStorage.setItem(CLIPBOARD, JSON.stringify({ name, look }));
    return true;
  } catch (error) {
    told(error);
    return false;
  }
}

/** What was copied last, or nothing. */
export function copied(): Copied | null {
  try {
    return JSON.parse(localStorage.getItem(CLIPBOARD) ?? "null") as Copied | null;
  } catch {
    return null;
  }
}

/** Moves a pass between the shot and its project, after all that was changed before. */
export async function movePass(to: "to-project" | "from-project", pass: string): Promise<boolean> {
  await settled();
  const { at, saved } = useBench.getState();
  if (!at || !saved) return false;
  try {
    const order = { params: { path: { ...at } }, body: { seen: saved.revision, pass_id: pass } };
    const answer: Bench = await asked(
      to === "to-project" ? api.POST(`${SHOT}/to-project`, order) : api.POST(`${SHOT}/from-project`, order),
    );
    adopt(answer);
    return true;
  } catch (error) {
    told(error instanceof Refusal && error.status === 409 ? new Error("The sheet was changed elsewhere. Try again.") : error);
    return false;
  }
}

/** Takes the last step of each shot back. */
export async function takenBack(project: string, shots: readonly string[]): Promise<void> {
  for (const shot of shots) {
    const at = { params: { path: { project, shot } } };
    const { revision } = await asked(api.GET(`${SHOT}/bench`, at));
    await asked(api.POST(`${SHOT}/undo`, { ...at, body: { seen: revision } }));
  }
}
