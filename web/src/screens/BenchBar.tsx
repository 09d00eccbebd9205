/** The bench's bar: project, shots, undo, views, compare, zoom, export. */

import { Link } from "react-router";
import type { ProjectDetail, Shot } from "../api/client";
import { useKeyOf } from "../bench/keymap";
import { step } from "../bench/saving";
import { useBench, type ViewName } from "../bench/store";
import { Chevron, TurnArrow } from "../icons/icons";
import { HoldButton } from "../ui/HoldButton";
import { Choice } from "../ui/Choice";
import { Kbd } from "../ui/Kbd";
import { Bar, Rule } from "./Bar";
import { CompareMenu } from "./CompareMenu";
import { Jobs } from "./Jobs";
import { RoomButton } from "./RoomButton";
import { SecondLook } from "./SecondLook";
import { Button, LOOKS } from "../ui/Button";

type Props = {
  readonly project: ProjectDetail;
  readonly shot: Shot;
  readonly onShot: (by: number) => void;
  readonly onZoom: (to: "fit" | "one") => void;
  readonly onExport: () => void;
  readonly onKeys: () => void;
  readonly onSnapshots: () => void;
};

const VIEWS: readonly (readonly [ViewName, string])[] = [
  ["picture", "Picture"],
  ["lattice", "Lattice"],
  ["matte", "Matte"],
  ["cutout", "Cutout"],
  ["outline", "Outline"],
];

export function BenchBar(props: Props) {
  const { project, shot, onShot, onExport, onKeys, onSnapshots } = props;
  const index = project.shots.findIndex((each) => each.id === shot.id);
  return (
    <Bar>
      <Link to={`/projects/${project.id}`} className={`${LOOKS.quiet} min-w-8 shrink !inline-block truncate !leading-7`} title={project.name}>
        {project.name}
      </Link>
      <Rule />
      <Button look="icon" aria-label="Shot before" disabled={index <= 0} onClick={() => onShot(-1)}>
        <Chevron to="left" />
      </Button>
      <span className="whitespace-nowrap text-ink-2">
        <b className="font-semibold text-ink">{index + 1}</b> of {project.shots.length}
      </span>
      <Button
        look="icon"
        aria-label="Shot after"
        disabled={index >= project.shots.length - 1}
        onClick={() => onShot(1)}
      >
        <Chevron to="right" />
      </Button>
      <Rule />
      <Undo />
      <span className="flex-1" />
      <Views />
      <Rule />
      <ZoomWords {...props} />
      <span className="flex-1" />
      <SecondLook shot={shot} />
      <Button look="quiet" onClick={onSnapshots}>
        Snapshots
      </Button>
      <RoomButton />
      <Button look="icon" aria-label="Keys" title="Keys" onClick={onKeys}>
        <Kbd>?</Kbd>
      </Button>
      <Jobs project={project.id} />
      <Button look="line" onClick={onExport}>
        Export…
      </Button>
    </Bar>
  );
}

const tipped = (says: string, key: string) => (key ? `${says} (${key})` : says);
const named = (verb: string, label: string | null | undefined) => (label ? `${verb} ${label}` : verb);

function Undo() {
  const saved = useBench((state) => state.saved);
  const stuck = useBench((state) => state.saving !== "saved" && state.saving !== "saving");
  return (
    <>
      <Button
        look="icon"
        aria-label="Undo"
        title={named("Undo", saved?.undo)}
        disabled={stuck || saved?.undo == null}
        onClick={() => step("undo")}
      >
        <TurnArrow back />
      </Button>
      <Button
        look="icon"
        aria-label="Redo"
        title={named("Redo", saved?.redo)}
        disabled={stuck || saved?.redo == null}
        onClick={() => step("redo")}
      >
        <TurnArrow back={false} />
      </Button>
    </>
  );
}

function Views() {
  const view = useBench((state) => state.view);
  const source = useBench((state) => state.source);
  return (
    <>
    <Choice
      label="View"
      look="quiet"
      options={VIEWS.map(([id, name]) => ({ id, name }))}
      value={view}
      onChange={(id) => useBench.setState({ view: id })}
    />
    <HoldButton look="quiet" on={source} title={tipped("Hold to see the source", useKeyOf("source"))} onHold={(held) => useBench.setState({ source: held })}>
      Source
    </HoldButton>
    <CompareMenu />
    </>
  );
}

function ZoomWords({ onZoom }: Props) {
  const zoom = useBench((state) => state.zoom);
  return (
    <span className="flex">
      <Button look="quiet" aria-current={zoom === null} onClick={() => onZoom("fit")}>
        Fit
      </Button>
      <Button look="quiet" aria-current={zoom?.scale === 1} onClick={() => onZoom("one")}>
        1 : 1
      </Button>
    </span>
  );
}
