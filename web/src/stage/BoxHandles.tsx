/** The beads of an ellipse or a rectangle: size, turn, place. */

import { type Box, boxOutline, EDGE_NAMES, edgePoint, sized, turnedTo, turnStem } from "../document/box";
import { Bead, CentreMark, EdgeMark, Line, stem, TurnMark } from "./lines";
import { type Changing, dragger, FeatherGrips, type Frame, OutlineLines, placed, rounded, way } from "./OutlineLines";

const STEM = 22;
const TOWARDS = { right: 0, bottom: 90, left: 180, top: 270 } as const;

type Props = {
  readonly box: Box;
  readonly profile: string;
  readonly frame: Frame;
  readonly changing: Changing<Partial<Box>>;
};

export function BoxHandles({ box, profile, frame, changing }: Props) {
  const outline = boxOutline(box);
  const drag = dragger({ ...changing, onChange: (fields: Partial<Box>) => changing.onChange(rounded(fields)) });
  const at = frame.place;
  const { edge: towards, foot, tip } = turnStem(box, STEM / frame.unit, frame.inView);
  const moved = drag((d) => {
    const by = way(d, frame, [box, ...EDGE_NAMES.map((edge) => edgePoint({ ...box, feather_in: 0, feather_out: 0 }, edge))]);
    return { x: box.x + by.x, y: box.y + by.y };
  });
  return (
    <>
      <OutlineLines outline={outline} soft={box} profile={profile} frame={frame} />
      <Line d={stem(at(foot), at(tip))} width={1} />
      <FeatherGrips outline={outline} soft={box} frame={frame} changing={changing} />
      {EDGE_NAMES.map((edge) => (
        <Bead
          key={edge}
          at={at(edgePoint(box, edge))}
          name={`Size, ${edge}`}
          cursor="grab"
          onPress={drag((d) => sized(box, edge, placed(d, frame), { square: d.shift, centred: d.alt }))}
        >
          <EdgeMark />
        </Bead>
      ))}
      <Bead
        at={at(tip)}
        name="Turn"
        cursor="grab"
        onPress={drag((d) => ({ turn: turnedTo(box, towards, frame.read(d.to), d.shift) }))}
      >
        <TurnMark angle={box.turn + TOWARDS[towards]} />
      </Bead>
      <Bead at={at(box)} name="Move" cursor="move" onPress={moved}>
        <CentreMark />
      </Bead>
    </>
  );
}
