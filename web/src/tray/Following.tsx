/** A region that goes along with what moves in it: begun, stopped, corrected, begun anew from a frame. */

import { lazy, Suspense, useState } from "react";
import type { Clip, Job, MotionKind, Region } from "../api/client";
import { useMotion } from "../api/motion";
import { runs, useJobs } from "../api/queries";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { goTo } from "../bench/time";
import { dismissJob, follow } from "../bench/follow";
import { fixesOf } from "../document/follow";
import { removeFix, setTrack } from "../document/tracks";
import { ProgressBar } from "../icons/icons";
import { Button } from "../ui/Button";
import { Select } from "../ui/Field";
import { Say, WordLine } from "../ui/Words";

type Props = { readonly region: Region; readonly clip: Clip };

const KINDS: readonly { readonly id: MotionKind; readonly name: string }[] = [
  { id: "any", name: "whatever it does" },
  { id: "face", name: "it turns, as a face" },
  { id: "shape", name: "its shape changes, as of one who walks" },
  { id: "perspective", name: "in perspective, as a notice" },
  { id: "skewed", name: "its place, size, turn and skew" },
  { id: "similar", name: "its place, size and turn" },
  { id: "place", name: "its place alone" },
  { id: "set", name: "nothing: it stays on the set" },
];

const Along = lazy(async () => ({ default: (await import("./AlongDialog")).AlongDialog }));

const sheet = () => useBench.getState().sheet;

export function Following({ region, clip }: Props) {
  const project = useBench((state) => state.at?.project ?? "");
  const shot = useBench((state) => state.at?.shot ?? "");
  const job = useJobs(project).find((each) => each.kind === "follow" && each.of === shot && each.region === region.id);
  if (job && runs(job)) return <Running job={job} region={region} />;
  return (
    <>
      {job?.state === "failed" && <Failed job={job} />}
      {region.track ? <Followed {...{ region, clip }} /> : <Begin region={region} />}
    </>
  );
}

function Failed({ job }: { readonly job: Job }) {
  return (
    <WordLine>
      <span role="alert">{job.problem}</span>
      <Button onClick={() => void dismissJob(job.id)}>dismiss</Button>
    </WordLine>
  );
}

function Begin({ region }: { readonly region: Region }) {
  const frame = useBench((state) => state.frame ?? 0);
  const [motion, setMotion] = useState<MotionKind>("any");
  return (
    <>
      <WordLine>
        Follow it
        <Button title={`It is marked right in frame ${frame}; it is looked for in all others`} onClick={() => void follow(region.id, motion, "both")}>
          both ways
        </Button>
        <Button title="Only in the frames after this one" onClick={() => void follow(region.id, motion, "onwards")}>
          onwards
        </Button>
        <Button title="Only in the frames before this one" onClick={() => void follow(region.id, motion, "back")}>
          back
        </Button>
      </WordLine>
      <WordLine>
        <Select
          aria-label="What may happen to it"
          value={motion}
          onChange={(event) => setMotion(KINDS.find(({ id }) => id === event.target.value)?.id ?? "any")}
        >
          {KINDS.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
      </WordLine>
    </>
  );
}

function Running({ job, region }: { readonly job: Job; readonly region: Region }) {
  const said = job.state === "waiting" ? "It waits for its turn." : `Following ${region.name}, ${Math.round(job.progress * 100)} %`;
  return (
    <>
      <Say look="small">{said}</Say>
      <ProgressBar share={job.progress} label={said} />
      <WordLine>
        <Button title="What was followed until now is kept" onClick={() => void dismissJob(job.id)}>
          stop here
        </Button>
      </WordLine>
    </>
  );
}

function Followed({ region, clip }: Props) {
  const frame = useBench((state) => state.frame ?? 0);
  const at = useBench((state) => state.at);
  const { data: motion, error } = useMotion(at, region.track?.motion ?? null);
  const here = region.track?.at === frame;
  const fixes = fixesOf(region);
  const fixed = fixes.includes(frame);
  // where somebody corrected it, somebody looked
  const doubts = motion?.doubtful.filter((each) => !fixes.includes(each)) ?? [];
  const [looks, setLooks] = useState(false);
  const shape = motion?.kind === "shape";
  const marks = region.track?.marks ?? {};
  const uncut = shape && Object.keys({ ...marks, ...motion.marked }).some((each) => (marks[each]?.length ?? 0) !== (motion.marked[each] ?? 0));
  const next = motion?.weakest.filter((each) => each !== frame) ?? [];
  return (
    <>
      <Say look="small">
        {error ? `${error.message} ` : ""}
        {motion && saidOf(clip.frames - doubts.length, doubts.length, AS[motion.kind] ?? "")}
        {uncut
          ? " What was corrected is not carried on yet: cut it anew."
          : here
            ? " It was marked in this frame."
            : ` Marked in frame ${region.track?.at ?? 0}; ${shape ? "marks put on it here correct it" : "moved here, it is corrected"}.`}
      </Say>
      <WordLine>
        {next.length > 0 && (
          <Button title="The ten frames in which it is least sure, one after another" onClick={() => goTo(next.find((each) => each > frame) ?? next[0] ?? 0)}>
            weakest frame
          </Button>
        )}
        {fixed && <Button onClick={() => change(removeFix(sheet(), region.id, frame), `correction ${frame} removed`)}>remove correction</Button>}
        {shape && (
          <Button title="Cut in all frames anew: what was corrected is carried both ways, up to the next frame that was set" onClick={() => void follow(region.id, "any", "both")}>
            cut anew
          </Button>
        )}
        {!here && !shape && (
          <Button title="As it lies here it is right: from here on it is followed anew" onClick={() => void follow(region.id, "any", "both")}>
            again from here
          </Button>
        )}
        <Button title="Twenty frames of it, cut out round where it lies, without what covers it" onClick={() => setLooks(true)}>
          look along it
        </Button>
        <Button title="As it was marked, for the whole length" onClick={() => change(setTrack(sheet(), region.id, null), `${region.name} stands still`)}>
          stand still
        </Button>
      </WordLine>
      {looks && (
        <Suspense>
          <Along region={region} rate={clip.frames / clip.seconds} onClose={() => setLooks(false)} />
        </Suspense>
      )}
    </>
  );
}

const AS: Partial<Record<MotionKind, string>> = { face: " as a face", shape: ", cut out in each frame", set: " the camera, fixed to the set" };

function saidOf(sure: number, doubts: number, as: string): string {
  if (doubts === 0) return `It follows${as}, sure in every frame.`;
  return `It follows${as}, sure in ${sure} ${sure === 1 ? "frame" : "frames"}; in ${doubts} look yourself.`;
}
