/** What a codec does to the frame on the bench: a second is encoded, and stands beside what went in, at full size. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type CodecLook, fetchCodec, type CodecOrder } from "../api/codec";
import { useBench } from "../bench/store";
import { visible } from "../document/zoom";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

type Props = { readonly format: CodecOrder["format"]; readonly quality: number | null; readonly name: string };

/** The sides of the piece that is shown, twice: what the dialog has room for at full size. */
const [WIDE, HIGH] = [216, 200];

/** Where one looks: the middle of what the stage shows. */
function middle(): { readonly x: number; readonly y: number } {
  const { zoom, stage, size } = useBench.getState();
  const seen = zoom && stage && size ? visible(zoom, stage, size) : null;
  if (seen) return { x: seen[0] + seen[2] / 2, y: seen[1] + seen[3] / 2 };
  return { x: (size?.width ?? 0) / 2, y: (size?.height ?? 0) / 2 };
}

export function ThroughCodec({ format, quality, name }: Props) {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const frame = useBench((state) => state.frame);
  const [place, setPlace] = useState<{ readonly x: number; readonly y: number } | null>(null);
  const order: CodecOrder | null = place && { format, quality, ...place, width: WIDE, height: HIGH };
  const { data, error, isFetching } = useQuery({
    queryKey: ["codec", at?.shot, frame, JSON.stringify(order)],
    queryFn: () => (at && order ? fetchCodec(at, sheet, order) : null),
    enabled: at !== null && order !== null,
    staleTime: Infinity,
    retry: false,
  });
  return (
    <div className="grid gap-2">
      <div>
        <Button onClick={() => setPlace(middle())} disabled={isFetching}>
          {isFetching ? "encoding a second…" : "see a second through it"}
        </Button>
      </div>
      {error && <Say role="alert">{error.message}</Say>}
      {data && <Seen {...{ data, name }} />}
    </div>
  );
}

function Seen({ data, name }: { readonly data: CodecLook; readonly name: string }) {
  const ratio = window.devicePixelRatio;
  return (
    <figure className="grid gap-1.5">
      <img src={data.url} alt={`The frame as it is finished, and the same after ${name}`} style={{ width: (2 * WIDE) / ratio }} />
      <figcaption className="grid gap-1">
        <span className="flex text-label font-medium text-ink-2">
          <span className="flex-1">as it is finished</span>
          <span className="flex-1">after {name}</span>
        </span>
        <Say role="status">{said(data)}</Say>
      </figcaption>
    </figure>
  );
}

const percent = (share: number) => `${Math.round(share * 100)}\u00a0%`;

function said({ frames, grain, steps, bits }: CodecLook): string {
  const of = `${frames} frames at ${(bits / 1e6).toFixed(1)}\u00a0Mbit a second.`;
  const left = grain === null ? "There is no grain to lose." : `${percent(grain)} of the grain’s variance is left.`;
  const flat = steps === null ? "" : ` Of the soft slopes ${percent(steps[1])} lie in flat steps, ${percent(steps[0])} before.`;
  return `${of} ${left}${flat}`;
}
