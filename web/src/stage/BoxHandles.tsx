/** The beads of an ellipse or a rectangle: size, turn, place. */

import { useBench } from "../bench/store";
import { type Box, boxOutline, EDGE_NAMES, edgePoint, sized, turnedTo, turnPlace } from "../document/box";
import type { Outline } from "../document/outline";
import { Bead, CentreMark, EdgeMark, TurnMark } from "./lines";
import { type Changing, dragger, FeatherGrips, type Frame, OutlineLines, placed, rounded, turning, way } from "./OutlineLines";

/** How far beyond the outer feather the bead that turns stands, in stage pixels. */
const GAP = 20;

type Props = {
  readonly box: Box;
  readonly profile: string;
  readonly frame: Frame;
  readonly changing: Changing<Partial<Box>>;
  /** its outline in perspective, where that is none of a box */
  readonly lies: Outline | null;
};

export function BoxHandles({ box, profile, frame, changing, lies }: Props) {
  const moving = useBench((state) => state.dragging);
  // while it is dragged nobody has told yet how it lies
  const outline = (moving ? null : lies) ?? boxOutline(box);
  const drag = dragger({ ...changing, onChange: (fields: Partial<Box>) => changing.onChange(rounded(fields)) });
  const at = frame.place;
  const turn = turnPlace(box, GAP / frame.unit, frame.inView);
  const moved = drag((d) => {
    const by = way(d, frame, [box, ...EDGE_NAMES.map((edge) => edgePoint({ ...box, feather_in: 0, feather_out: 0 }, edge))]);
    return { x: box.x + by.x, y: box.y + by.y };
  });
  return (
    <>
      <OutlineLines outline={outline} soft={box} profile={profile} frame={frame} />
      <FeatherGrips outline={outline} soft={box} frame={frame} changing={changing} />
      {EDGE_NAMES.map((edge) => (
        <Bead
          key={edge}
          at={at(edgePoint(box, edge))}
          name={`Size, ${edge}`}
          cursor="grab"
          grip={drag((d) => sized(box, edge, placed(d, frame), { square: d.shift, centred: d.alt }))}
        >
          <EdgeMark />
        </Bead>
      ))}
      <Bead
        at={at(turn.at)}
        name="Turn"
        cursor="grab"
        grip={turning(drag((d) => ({ turn: turnedTo(box, turn.angle, frame.read(d.to), d.shift) })), box.turn, changing)}
      >
        <TurnMark angle={turn.out} />
      </Bead>
      <Bead at={at(box)} name="Move" cursor="move" grip={moved}>
        <CentreMark />
      </Bead>
    </>
  );
}
