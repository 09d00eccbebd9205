/** In which frames a cover holds: those that nobody is sure of are looked at one after another, and declared. */

import { useState } from "react";
import type { Clip, Cover, CoverRun, Region } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { goTo } from "../bench/time";
import { declare, takeBack } from "../document/declare";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Say, WordLine } from "../ui/Words";

type Props = { readonly region: Region; readonly clip: Clip };

const KEY = "calado-name";

export function Covering({ region, clip }: Props) {
  const cover = useBench((state) => state.covers.find((each) => each.region === region.id));
  return cover ? <Covered {...{ region, clip, cover }} /> : null;
}

function Covered({ region, clip, cover }: Props & { readonly cover: Cover }) {
  const frame = useBench((state) => state.frame ?? 0);
  const range = useBench((state) => state.range);
  const [who, setWho] = useState(() => localStorage.getItem(KEY) ?? "");
  const run = cover.runs.find((each) => each.first <= frame && frame <= each.last);
  const opens = cover.runs.filter((each) => each.state === "open");
  const next = opens.find((each) => each.first > frame) ?? opens[0];
  // what is marked on the ruler, or what stands alike around this frame
  const frames = range ?? (run && run.state !== "covered" ? run : { first: frame, last: frame });
  const say = (says: "absent" | "seen") => {
    const said = { says, who: who.trim(), when: new Date().toISOString() };
    const label = says === "absent" ? `absent in ${named(frames)}` : `looked at ${named(frames)}`;
    change(declare(useBench.getState().sheet, region.id, { first: frames.first, last: Math.min(frames.last, clip.frames - 1) }, said), label);
  };
  const unsay = (of: CoverRun) => change(takeBack(useBench.getState().sheet, region.id, of), `${named(of)} taken back`);
  return (
    <div role="group" aria-label="Coverage" className="min-w-60 flex-1 pl-5">
      <Say look="small">
        It {cover.says}. {run ? saidOf(run) : ""}
      </Say>
      <WordLine>
        {next && next !== run && <Button onClick={() => goTo(next.first)}>next open frame</Button>}
        {run?.declared ? (
          <Button onClick={() => unsay(run)}>take that back</Button>
        ) : (
          <>
            {run?.state === "open" && (
              <Button title={`You looked at ${named(frames)}: what is to be covered is. The report says so`} onClick={() => say("seen")}>
                it lies right
              </Button>
            )}
            <Button title={`In ${named(frames)} there is nothing to cover: none is laid there. The report says so`} onClick={() => say("absent")}>
              absent in {named(frames)}
            </Button>
          </>
        )}
      </WordLine>
      <WordLine as="label">
        Your name, for the report
        <Field
          className="h-6! w-32"
          value={who}
          maxLength={60}
          onChange={(event) => {
            setWho(event.target.value);
            localStorage.setItem(KEY, event.target.value);
          }}
        />
      </WordLine>
    </div>
  );
}

const named = ({ first, last }: { readonly first: number; readonly last: number }) => (first === last ? `frame ${first}` : `frames ${first} to ${last}`);

function saidOf(run: CoverRun): string {
  const one = run.first === run.last;
  const here = one ? `Frame ${run.first}` : `Frames ${run.first} to ${run.last}`;
  const by = run.who ? ` by ${run.who}` : "";
  if (run.declared === "absent") return `${here}: declared absent${by}.`;
  if (run.declared === "seen") return `${here}: looked at${by}.`;
  if (run.state === "open") return `${here} ${one ? "is" : "are"} open: it may be off, and nobody looked.`;
  return run.state === "off" ? `${here} ${one ? "lies" : "lie"} outside of the pass.` : "";
}
