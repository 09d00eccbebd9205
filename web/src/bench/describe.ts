/** The draft in words, from the server; while a fader moves only the newest draft is told. */

import { api, asked, Refusal } from "../api/client";
import { onSheet } from "../api/draft";
import { latest } from "./latest";
import { useBench } from "./store";

/** While a value moves the picture goes first; the words follow a few times a second. */
const PAUSE_MS = 160;
const RETRY_MS = 1500;

const teller = latest<null>(async () => {
  if (useBench.getState().dragging) await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
  const { sheet, at } = useBench.getState();
  try {
    const { told, parts, covers } = await onSheet(sheet, (draft) =>
      asked(api.GET("/api/drafts/{draft}/told", { params: { path: { draft }, query: at ?? {} } })),
    );
    // an answer to a draft that was taken back meanwhile must not show; what moves stands elsewhere then, and is asked for again
    const now = useBench.getState();
    if (now.sheet === sheet || now.dragging) useBench.setState({ told, parts, covers });
    else describeSoon();
  } catch (error) {
    // the words stay as they were; saving tells what is wrong
    if (!(error instanceof Refusal) || (error.status !== 0 && error.status < 500)) return;
    await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    describeSoon();
  }
});

export function describeSoon(): void {
  teller.want(null);
}
