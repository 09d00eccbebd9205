/** Taking colours from the picture: a press takes a small place, a drag a box. */

import { type PointerEvent, useState } from "react";
import type { Part } from "../api/client";
import { useBench } from "../bench/store";
import type { Point } from "../document/zoom";
import { follow } from "../bench/drag";
import { Bead, EdgeMark, Line } from "./lines";
import type { Frame } from "./OutlineLines";

/** Side of what a press takes, in screen pixels. */
const SPOT = 7;
const LEAST_DRAG = 4;
type Box = readonly [number, number, number, number];

function boxOf(from: Point, to: Point, frame: Frame): Box {
  const moved = Math.hypot(to.x - from.x, to.y - from.y) * frame.unit >= LEAST_DRAG;
  const spot = SPOT / frame.unit;
  if (!moved) return [from.x - spot / 2, from.y - spot / 2, spot, spot];
  return [Math.min(from.x, to.x), Math.min(from.y, to.y), Math.abs(to.x - from.x), Math.abs(to.y - from.y)];
}

function outline([x, y, width, height]: Box, frame: Frame): string {
  const a = frame.place({ x, y });
  const b = frame.place({ x: x + width, y: y + height });
  return `M${a.x} ${a.y}H${b.x}V${b.y}H${a.x}Z`;
}

export function Sampling({ frame, onBox }: { readonly frame: Frame; readonly onBox: (box: Box) => void }) {
  const [box, setBox] = useState<Box | null>(null);
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    const from = frame.read({ x: event.clientX, y: event.clientY });
    let made = boxOf(from, from, frame);
    setBox(made);
    follow(event, {
      onMove: (drag) => {
        made = boxOf(from, frame.read(drag.to), frame);
        setBox(made);
      },
      onEnd: (kept) => {
        setBox(null);
        if (kept) onBox(made);
      },
    });
  };
  return (
    <>
      <rect className="paper" width="100%" height="100%" onPointerDown={press} />
      {box && <Line d={outline(box, frame)} width={1.25} />}
    </>
  );
}

type SamplesProps = { readonly part: Part; readonly frame: Frame; readonly onRemove: (index: number) => void };

/** Where samples were taken; a press on one takes it away. */
export function Samples({ part, frame, onRemove }: SamplesProps) {
  const view = useBench((state) => state.view);
  return part.samples?.map((sample, index) => {
    const { x, y, width = 0, height = 0, does } = sample;
    return (
      // a sample has no name but its place in the order
      <g key={`sample-${index + 1}`} data-sample={does} opacity={view === "picture" ? 1 : 0.8}>
        <Line d={outline([x, y, width, height], frame)} width={1} {...(does === "erase" && { dash: "3 3" })} />
        <Bead
          at={frame.place({ x: x + width / 2, y: y + height / 2 })}
          name={`Sample ${index + 1}${does === "erase" ? ", kept out" : ""}: press to take it away`}
          cursor="pointer"
          grip={{
            onPress: (event) => {
              event.stopPropagation();
              onRemove(index);
            },
            onEnter: () => onRemove(index),
          }}
        >
          <EdgeMark />
        </Bead>
      </g>
    );
  });
}
