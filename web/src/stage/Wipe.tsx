/** The wipe: the source left of a line that can be drawn along the picture. */

import type { PointerEvent } from "react";
import { useBench } from "../bench/store";
import type { Size } from "../document/zoom";
import { follow } from "../bench/drag";
import { Range } from "../ui/Range";
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
  return (
    <div
      className="absolute inset-y-0 -ml-3 w-6 cursor-ew-resize touch-none before:absolute before:inset-y-0 before:left-1/2 before:w-[1.5px] before:-translate-x-1/2 before:bg-[oklch(0.97_0_0)] before:shadow-[0_0_0_1px_var(--color-casing)] before:content-[''] before:outline-focus has-focus-visible:before:outline-2 has-focus-visible:before:outline-offset-3"
      style={{ left: wipe * stage.width }}
      onPointerDown={press}
    >
      <Range
        label="Wipe"
        text={`source left of ${Math.round(wipe * 100)} %`}
        value={wipe * 100}
        low={0}
        high={100}
        step={STEP * 100}
        onChange={(percent) => useBench.setState({ wipe: percent / 100 })}
      />
      <Tag className="right-5">source</Tag>
      <Tag className="left-5">result</Tag>
    </div>
  );
}
