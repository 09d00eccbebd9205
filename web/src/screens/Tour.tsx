/** Three things to try on the demo, until they are put away; that is kept in this browser. */

import { useState } from "react";
import { Link } from "react-router";
import type { Project } from "../api/client";
import { useProject } from "../api/queries";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

const KEY = "calado-tour";
const PUT_AWAY = "put away";
/** The demo project, and what to try on which of its shots. */
const DEMO = "Lanternmoth";
const TRIES = [
  {
    shot: "The bench by the window",
    title: "Cut her from the bench",
    says: "Choose rough-in, draw loosely round the puppet, then one stroke on her hair.",
  },
  {
    shot: "Five pots",
    title: "Keep one pot in colour",
    says: "It is done already: move its ellipse to another pot, and the hue slope after it.",
  },
  {
    shot: "The walker",
    title: "Let the light walk along",
    says: "A tap on Space plays it. Drag the spotlight at another frame: that is a keyframe.",
  },
] as const;

export function Tour({ projects }: { readonly projects: readonly Project[] }) {
  const [away, setAway] = useState(() => localStorage.getItem(KEY) === PUT_AWAY);
  const demo = projects.find((each) => each.name === DEMO);
  if (away || !demo) return null;
  const putAway = () => {
    localStorage.setItem(KEY, PUT_AWAY);
    setAway(true);
  };
  return <Tries project={demo.id} onPutAway={putAway} />;
}

function Tries({ project, onPutAway }: { readonly project: string; readonly onPutAway: () => void }) {
  const { data } = useProject(project);
  return (
    <section className="mb-6 bg-sheet px-5 pt-3.5 pb-4.5" aria-label="Three things to try">
      <div className="flex items-baseline justify-between">
        <h2 className="font-book text-[15px] leading-5.5 font-medium">Three things to try</h2>
        <Button onClick={onPutAway}>
          hide for good
        </Button>
      </div>
      <ol className="mt-2 grid grid-cols-3 gap-7">
        {TRIES.map(({ shot, title, says }) => {
          const found = data?.shots.find((each) => each.name === shot);
          return (
            <li key={shot} className="[&>:first-child]:font-book [&>:first-child]:text-[17px] [&>:first-child]:leading-6 [&>:first-child]:font-medium [&>a]:underline [&>a]:underline-offset-4">
              {found ? <Link to={`/projects/${project}/shots/${found.id}`}>{title}</Link> : <span>{title}</span>}
              <Say className="leading-5">{says}</Say>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
