/** The wipe: the source left of a line that can be drawn along the picture. */

import type { KeyboardEvent, PointerEvent } from "react";
import { useBench } from "../bench/store";
import type { Size } from "../document/zoom";
import { follow } from "../bench/drag";
import { Tag } from "./Tag";

const STEP = 0.02;

const kept = (share: number) => Math.min(Math.max(share, 0), 1);

export function WipeLine({ stage }: { readonly stage: Size }) {
  const wipe = useBench((state) => state.wipe);
  const press = (event: PointerEvent<HTMLElement>) => {
    const from = wipe;
    follow(event, {
      onMove: (drag) => useBench.setState({ wipe: kept(from + (drag.to.x - drag.from.x) / stage.width) }),
      onEnd: () => undefined,
    });
  };
  const key = (event: KeyboardEvent) => {
    const way = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (way === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    useBench.setState({ wipe: kept(wipe + way) });
  };
  return (
    <div
      className="absolute top-0 bottom-0 w-6 -ml-3 cursor-ew-resize touch-none before:content-[''] before:absolute before:[inset:0_10.25px] before:[background:oklch(0.97_0_0)] before:[background-clip:content-box] before:[border:solid_oklch(0.12_0_0_/_0.58)] before:[border-width:0_1px]"
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(wipe * 100)}
      aria-valuetext={`source left of ${Math.round(wipe * 100)} %`}
      style={{ left: wipe * stage.width }}
      onPointerDown={press}
      onKeyDown={key}
    >
      <Tag className="right-5">source</Tag>
      <Tag className="left-5">result</Tag>
    </div>
  );
}
