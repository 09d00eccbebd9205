/** The beads of a linear gradient: place, turn, and the width of a band. */

import { fallTo, type Gradient, gradientOutline, gradientPoint, gradientTurn } from "../document/gradient";
import { Bead, CentreMark, EdgeMark, TurnMark } from "./lines";
import { type Changing, dragger, FeatherGrips, type Frame, OutlineLines, rounded, turning, way } from "./OutlineLines";

const TURN_AT = [0.5, 0.35, 0.2, -0.35, -0.2];

type Props = {
  readonly gradient: Gradient;
  readonly profile: string;
  readonly frame: Frame;
  readonly changing: Changing<Partial<Gradient>>;
};

export function GradientHandles({ gradient, profile, frame, changing }: Props) {
  const outline = gradientOutline(gradient);
  const drag = dragger({ ...changing, onChange: (fields: Partial<Gradient>) => changing.onChange(rounded(fields)) });
  const along = TURN_AT.find((at) => frame.inView(gradientPoint(gradient, at, 0))) ?? 0.35;
  const turned = (to: { readonly x: number; readonly y: number }, stepped: boolean) =>
    gradientTurn(gradient, along < 0 ? { x: 2 * gradient.x - to.x, y: 2 * gradient.y - to.y } : to, stepped);
  return (
    <>
      <OutlineLines outline={outline} soft={gradient} profile={profile} frame={frame} />
      <FeatherGrips outline={outline} soft={gradient} frame={frame} changing={changing} />
      {gradient.sides === "two" &&
        [-1, 1].map((side) => (
          <Bead
            key={side}
            at={frame.place(gradientPoint(gradient, 0, (side * gradient.width) / 2))}
            name={side < 0 ? "Band, near" : "Band, far"}
            cursor="grab"
            grip={drag((d) => ({ width: 2 * Math.abs(fallTo(gradient, frame.read(d.to))) }))}
          >
            <EdgeMark />
          </Bead>
        ))}
      <Bead
        at={frame.place(gradientPoint(gradient, along, 0))}
        name="Turn"
        cursor="grab"
        grip={turning(drag((d) => ({ turn: turned(frame.read(d.to), d.shift) })), gradient.turn, changing)}
      >
        <TurnMark angle={gradient.turn} />
      </Bead>
      <Bead
        at={frame.place(gradient)}
        name="Move"
        cursor="move"
        grip={drag((d) => {
          const by = way(d, frame, [gradient]);
          return { x: gradient.x + by.x, y: gradient.y + by.y };
        })}
      >
        <CentreMark />
      </Bead>
    </>
  );
}
