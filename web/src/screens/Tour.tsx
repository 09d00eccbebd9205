/** Three things to try on the demo, until they are put away; that is kept in this browser. */

import { useState } from "react";
import { Link } from "react-router";
import type { Project } from "../api/client";
import { useProject } from "../api/queries";

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
    shot: "Dusk on the cobbles",
    title: "Calm the sun",
    says: "Start “Tame hot spot”: its streak calms too, and Similar offers the lamp.",
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
    <section className="tour bg-sheet pt-3.5 px-5 pb-4.5 mb-6" aria-label="Three things to try">
      <header>
        <h2>Three things to try</h2>
        <button type="button" className="word" onClick={onPutAway}>
          hide for good
        </button>
      </header>
      <ol>
        {TRIES.map(({ shot, title, says }) => {
          const found = data?.shots.find((each) => each.name === shot);
          return (
            <li key={shot}>
              {found ? <Link to={`/projects/${project}/shots/${found.id}`}>{title}</Link> : <span>{title}</span>}
              <p className="say">{says}</p>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
