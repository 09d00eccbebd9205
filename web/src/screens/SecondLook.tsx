/** Second look: what a careful colleague would point out, each with a way there and a way to mend it. */

import type { Finding, Shot } from "../api/client";
import { useSecondLook } from "../bench/measurements";
import { change } from "../bench/saving";
import { select, pointOut, useBench } from "../bench/store";
import { Under } from "../ui/pressed";
import { Button } from "../ui/Button";

/** Room left round a place that is shown. */
const ROOM = 1.6;

export function SecondLook({ shot }: { readonly shot: Shot }) {
  const { findings, failed } = useSecondLook();
  return (
    <Under
      name={
        <>
          Second look{findings.length > 0 && <b data-count className="[font:600_11px/16px_var(--font-face)] min-w-4 text-center [border-radius:8px] bg-token text-ink py-0 px-1.25">{findings.length}</b>}
        </>
      }
      label="Second look"
      className="max-h-[70vh] w-100 overflow-y-auto py-1.5"
    >
      {(close) => (
        <>
          {findings.length === 0 && (
            <p className="px-4 py-2 font-book text-sentence font-normal">{failed ? "The shot could not be looked over just now." : "Nothing to point out."}</p>
          )}
          <ul className="divide-y divide-line">
            {findings.map((finding) => (
              <li key={`${finding.kind}-${finding.pass_id}-${finding.region_id}`} data-kind={finding.kind} className="px-4 pt-2 pb-1.5">
                <p className="font-book text-small font-normal">{finding.says}</p>
                <span className="flex gap-4 pt-1">
                  <Button
                    title="Goes to the place in the picture"
                    onClick={() => {
                      close();
                      showPlace(finding, shot);
                    }}
                  >
                    show
                  </Button>
                  {finding.mended && (
                    <Button onClick={() => mend(finding)}>
                      {finding.mend}
                    </Button>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </Under>
  );
}

function mend(finding: Finding): void {
  if (finding.mended) change(finding.mended, finding.mend);
}

/** Chooses the pass and brings the place into the middle of the stage. */
function showPlace(finding: Finding, shot: Shot): void {
  const { stage, sheet } = useBench.getState();
  const pass = sheet.passes.find((each) => each.id === finding.pass_id);
  if (finding.region_id) select({ kind: "where", pass: pass?.id ?? null, region: finding.region_id, part: null });
  else if (pass) select({ kind: "what", pass: pass.id, side: "inside", group: "Light", adjustment: "" });
  if (!finding.rectangle || !stage) return;
  const [left = 0, top = 0, width = 1, height = 1] = finding.rectangle;
  const fit = Math.min(stage.width / shot.width, stage.height / shot.height);
  const scale = Math.min(Math.max(Math.min(stage.width / (width * ROOM), stage.height / (height * ROOM)), fit), 2);
  pointOut({ x: left + width / 2, y: top + height / 2 }, scale);
}
