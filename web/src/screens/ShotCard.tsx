/** A shot on the contact sheet: hold it to see its source, press it to open it. */

import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { type HTMLAttributes, lazy, type MouseEvent, type PointerEvent, Suspense, useRef, useState } from "react";
import { Link } from "react-router";
import { type ProjectDetail, type Shot, thumbnailUrl } from "../api/client";
import { timeOf } from "../document/time";
import { ShotName } from "./ShotName";

const PlayingCard = lazy(() => import("./PlayingCard").then((made) => ({ default: made.PlayingCard })));

type Props = {
  readonly project: ProjectDetail;
  readonly shot: Shot;
  readonly movable: boolean;
  readonly chosen: boolean;
  readonly onPick: () => void;
};

const HOLD_MS = 220;
/** A hand that only passes over starts nothing. */
const REST_MS = 300;

/** Whether a hand rests here that can point without pressing. */
function useRest() {
  const [rests, setRests] = useState(false);
  const timer = useRef(0);
  const leave = () => {
    window.clearTimeout(timer.current);
    setRests(false);
  };
  const enter = (event: PointerEvent) => {
    if (event.pointerType !== "mouse") return;
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => setRests(true), REST_MS);
  };
  return { rests, on: { onPointerEnter: enter, onPointerLeave: leave } };
}

/** Shows the source while a press lasts; a press that was long opens nothing. */
function useHeld() {
  const [held, setHeld] = useState(false);
  const timer = useRef(0);
  const long = useRef(false);
  const end = () => {
    window.clearTimeout(timer.current);
    setHeld(false);
  };
  const begin = () => {
    long.current = false;
    timer.current = window.setTimeout(() => {
      long.current = true;
      setHeld(true);
    }, HOLD_MS);
  };
  const onClick = (event: MouseEvent) => {
    if (long.current) event.preventDefault();
    long.current = false;
  };
  return { held, on: { onPointerDown: begin, onPointerUp: end, onPointerLeave: end, onPointerCancel: end, onClick } };
}

export function ShotCard({ project, shot, movable, chosen, onPick }: Props) {
  const [keyed, setKeyed] = useState(false);
  const { held, on } = useHeld();
  const { rests, on: resting } = useRest();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id: shot.id });
  const { onKeyDown, onPointerDown } = (listeners ?? {}) as Partial<HTMLAttributes<HTMLElement>>;
  const source = (held && !isDragging) || keyed;
  const at = { project: project.id, shot: shot.id };
  return (
    <figure
      ref={setNodeRef}
      // a press that became a drag must not open the shot where it is let go
      className={`group${isDragging ? " pointer-events-none relative z-1 opacity-80" : ""}`}
      style={{ transform: CSS.Translate.toString(transform), transition: transition ?? undefined }}
      data-shot={shot.id}
      onPointerDown={onPointerDown}
    >
      <div className="relative" {...resting}>
        <Link
          to={`/projects/${project.id}/shots/${shot.id}`}
          className={`relative block aspect-3/2 w-full bg-ground ${chosen ? "outline-2 outline-offset-2 outline-mark-line" : ""}`}
          draggable={false}
          onContextMenu={(event) => event.preventDefault()}
          onKeyDown={(event) => event.key === "s" && setKeyed(true)}
          onKeyUp={() => setKeyed(false)}
          {...on}
          aria-label={`Open ${shot.name}`}
        >
          <img className="block size-full object-contain" src={thumbnailUrl(at, shot, source ? "source" : "done")} alt="" draggable={false} />
          {shot.clip && rests && !source && !isDragging && (
            <Suspense>
              <PlayingCard {...{ at, shot }} clip={shot.clip} />
            </Suspense>
          )}
        </Link>
        {shot.clip && (
          <span className="pointer-events-none absolute right-2 bottom-2 z-1 rounded-token bg-casing px-1.5 text-note font-medium text-thread tabular-nums">
            {timeOf(shot.clip.frames, shot.clip.base)}
          </span>
        )}
        <button
          type="button"
          className="absolute top-2 left-2 grid size-6 place-items-center rounded-[12px] bg-casing opacity-0 transition-opacity group-hover:opacity-100 focus-visible:opacity-100 aria-checked:opacity-100 [@media(hover:none)]:opacity-100"
          role="checkbox"
          aria-checked={chosen}
          aria-label={`Choose ${shot.name}`}
          onClick={onPick}
        >
          <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden>
            <circle cx="7" cy="7" r="5.5" fill={chosen ? "oklch(.86 .135 121)" : "none"} stroke="oklch(.97 0 0)" strokeWidth="1.5" />
          </svg>
        </button>
      </div>
      <figcaption className="min-h-12.5 pt-1.5">
        <ShotName project={project.id} shot={shot} />
        {movable && (
          <button
            ref={setActivatorNodeRef}
            {...attributes}
            type="button"
            className="btn btn-ghost btn-xs sr-only focus:not-sr-only"
            aria-label={`Move ${shot.name}`}
            onKeyDown={onKeyDown}
          >
            move: Space, arrows, Space
          </button>
        )}
        <small className="text-label font-medium text-ink-2">{shot.passes.length > 0 ? shot.passes.join(", ") : "Untouched"}</small>
      </figcaption>
    </figure>
  );
}
