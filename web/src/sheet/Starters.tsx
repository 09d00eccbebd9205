/** Starters with pictures of this shot before and after; one shows on the stage while one rests on it. */

import { type Made, usePictureUrl } from "../api/usePictureUrl";
import { Missing } from "../ui/Missing";
import { type FocusEvent, useEffect, useRef, useState } from "react";
import { type Sheet, type Shot, type Starter } from "../api/client";
import { PLAIN_VIEW } from "../api/pictures";
import { withStarter } from "../bench/begin";
import { useBench } from "../bench/store";

const STARTER =
  "-m-2 grid grid-cols-[196px_1fr] items-start gap-4 rounded-[4px] p-2 text-left hover:bg-token data-[first=true]:shadow-[inset_0_0_0_1.5px_var(--color-mark-line)] group-data-peeking/panel:data-[resting=false]:opacity-0 group-data-peeking/panel:data-[resting=true]:bg-sheet";

type StartersProps = {
  readonly list: readonly Starter[];
  readonly shot: Shot;
  readonly region: string | null;
  readonly marked: boolean;
  readonly onStart: (id: string) => void;
};

export function Starters({ list, shot, region, marked, onStart }: StartersProps) {
  const { resting, rest, leave } = usePeek(region);
  const before = useSmall(shot, "before", async () => useBench.getState().sheet);
  return (
    <div data-starters className="grid grid-cols-2 gap-x-6 gap-y-4">
      {list.map((starter, index) => (
        <button
          key={starter.id}
          type="button"
          className={STARTER}
          data-first={marked && index === 0}
          data-starter={starter.id}
          data-resting={resting === starter.id}
          onClick={() => onStart(starter.id)}
          // one that comes up beneath a pointer that stands still is not rested on
          onPointerMove={({ movementX, movementY }) => (movementX !== 0 || movementY !== 0) && rest(starter.id)}
          onPointerLeave={leave}
          onFocus={(event: FocusEvent<HTMLElement>) => event.currentTarget.matches(":focus-visible") && rest(starter.id)}
          onBlur={leave}
        >
          <Pair {...{ starter, shot, region, before }} />
          <span>
            <b className="mb-px block font-book text-[16px] leading-5 font-medium">{starter.name}</b>
            <small className="block font-book text-[13px] leading-4.5 font-normal">{starter.says}</small>
          </span>
        </button>
      ))}
    </div>
  );
}

/** So long a pointer, or the focus, rests on a starter before the stage shows what it would make. */
const REST_MS = 700;

/** Shows a starter on the stage, full size, while one rests on it. */
function usePeek(region: string | null) {
  const [resting, setResting] = useState("");
  const wanted = useRef("");
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const leave = () => {
    clearTimeout(timer.current);
    wanted.current = "";
    setResting("");
    useBench.setState({ peek: null });
  };
  const rest = (id: string) => {
    if (wanted.current === id) return;
    leave();
    wanted.current = id;
    timer.current = setTimeout(() => {
      withStarter(id, region)
        .then((peek) => {
          if (wanted.current !== id || !useBench.getState().starting) return;
          setResting(id);
          useBench.setState({ peek });
        })
        .catch((error: unknown) => useBench.setState({ problem: error instanceof Error ? error.message : "" }));
    }, REST_MS);
  };
  useEffect(() => () => clearTimeout(timer.current), []);
  return { resting, rest, leave };
}

const PAIR_WIDTH = 200;

/** A small picture of a draft of this shot, as an address; made again when `key` changes, and never while it is null. */
function useSmall(shot: Shot, key: string | null, sheet: (signal: AbortSignal) => Promise<Sheet | null>): Made {
  const at = useBench((state) => state.at);
  return usePictureUrl(at, key, async (signal) => {
    const draft = await sheet(signal);
    // so small, a coarse edge is as good
    const scale = Math.min(PAIR_WIDTH / shot.width, 1);
    const view = { view: "picture", rectangle: [0, 0, shot.width, shot.height], scale, coarse: true, format: "jpeg" } as const;
    return draft && { ...PLAIN_VIEW, ...view, rectangle: [...view.rectangle], sheet: draft };
  });
}

type PairProps = { readonly starter: Starter; readonly shot: Shot; readonly region: string | null; readonly before: Made };

/** This shot before and after the starter, rendered as anything else is; all share the one before. */
function Pair({ starter, shot, region, before }: PairProps) {
  const after = useSmall(shot, before.url && `${starter.id} ${region}`, (signal) => withStarter(starter.id, region, signal));
  const failed = before.failed || after.failed;
  return (
    <span className="grid aspect-[3/1] grid-cols-2 gap-0.5 *:size-full *:bg-field *:object-cover" data-pair>
      {[before, after].map(({ url }, index) =>
        before.url && after.url && url ? <img key={url} src={url} alt="" /> : <i key={index === 0 ? "before" : "after"}>{failed && <Missing />}</i>,
      )}
    </span>
  );
}
