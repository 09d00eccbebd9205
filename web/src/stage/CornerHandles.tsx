/** The beads of an outline through points: each point and its handles, a new one in the middle of each side, all together. */

import { type PointerEvent, useState } from "react";
import {
  centreOf,
  cornerAdded,
  cornerMoved,
  type Corners,
  cornersOutline,
  cornerTaken,
  handleMoved,
  handleOf,
  middleOfSide,
  placeOf,
  shifted,
  turnedSmooth,
} from "../document/corners";
import type { Feathers } from "../document/outline";
import { pressedTwice } from "../bench/drag";
import { Bead, CentreMark, EdgeMark, type Grip, HandleMark, Line, NewMark, stem } from "./lines";
import { type Changing, dragger, FeatherGrips, type Frame, OutlineLines, placed, way } from "./OutlineLines";

/** Sides shorter than this, in stage pixels, leave no room for a bead between their points. */
const ROOM = 44;

type Props = {
  readonly corners: Corners;
  /** whether points may have handles */
  readonly curved: boolean;
  readonly soft: Feathers;
  readonly profile: string;
  readonly frame: Frame;
  readonly changing: Changing<Partial<Feathers>>;
  readonly reshaping: Changing<Corners>;
};

export function CornerHandles({ corners, curved, soft, profile, frame, changing, reshaping }: Props) {
  const [held, setHeld] = useState(0);
  const outline = cornersOutline(corners);
  const drag = dragger(reshaping);
  const at = (k: number) => frame.place(placeOf(corners[k]));
  const make = (made: Corners) => {
    reshaping.onChange(made);
    reshaping.onChangeEnd();
  };
  const once = (event: PointerEvent<SVGElement>, made: Corners) => {
    event.stopPropagation();
    make(made);
  };
  const corner = (k: number): Grip => {
    const grip = drag((d) => cornerMoved(corners, k, placed(d, frame)));
    const onPress = (event: PointerEvent<SVGElement>) => {
      setHeld(k);
      if (event.altKey) return once(event, cornerTaken(corners, k));
      if (curved && pressedTwice(event)) return once(event, turnedSmooth(corners, k));
      return grip.onPress(event);
    };
    return { ...grip, onPress, onDelete: () => make(cornerTaken(corners, k)) };
  };
  const handles = curved && (corners[held]?.length ?? 0) > 2 ? (["in", "out"] as const) : [];
  return (
    <>
      <OutlineLines outline={outline} soft={soft} profile={profile} frame={frame} />
      <FeatherGrips outline={outline} soft={soft} frame={frame} changing={changing} />
      {sides(corners, frame).map(({ after, middle }) => (
        <Bead
          key={`new-${after}`}
          at={middle}
          name={`New corner after ${after + 1}`}
          cursor="copy"
          grip={drag((d) => cornerAdded(corners, after, placed(d, frame)))}
        >
          <NewMark />
        </Bead>
      ))}
      <Bead
        at={frame.place(centreOf(corners))}
        name="Move"
        cursor="move"
        grip={drag((d) => {
          const by = way(d, frame, [centreOf(corners), ...corners.map(placeOf)]);
          return shifted(corners, by.x, by.y);
        })}
      >
        <CentreMark />
      </Bead>
      {corners.map((_, k) => (
        // a corner has no name but its place in the outline
        <Bead key={`corner-${k + 1}`} at={at(k)} name={`Corner ${k + 1}`} cursor="grab" grip={corner(k)}>
          <EdgeMark />
        </Bead>
      ))}
      {handles.map((side) => {
        const end = frame.place(handleOf(corners[held], side));
        return (
          <g key={side}>
            <Line d={stem(at(held), end)} width={0.75} />
            <Bead
              at={end}
              name={`Handle ${side}`}
              cursor="grab"
              grip={drag((d) => handleMoved(corners, held, side, frame.read(d.to), d.alt))}
            >
              <HandleMark />
            </Bead>
          </g>
        );
      })}
    </>
  );
}

function sides(corners: Corners, frame: Frame) {
  return corners.flatMap((corner, after) => {
    const from = frame.place(placeOf(corner));
    const to = frame.place(placeOf(corners[(after + 1) % corners.length]));
    const long = Math.hypot(to.x - from.x, to.y - from.y) > ROOM;
    return long ? [{ after, middle: frame.place(middleOfSide(corners, after)) }] : [];
  });
}
