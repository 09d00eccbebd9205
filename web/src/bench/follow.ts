/** Following: a region's motion is looked for by a worker, and laid on the sheet when it is there. */

import { useEffect } from "react";
import { answers } from "../api/answers";
import { api, asked, type MotionKind } from "../api/client";
import { DRAFT } from "../api/draft";
import { useJobs } from "../api/queries";
import { regionOf } from "../document/edit";
import { setTrack } from "../document/tracks";
import { onThisDraft } from "./request";
import { change } from "./saving";
import { useBench } from "./store";

export type Ways = "both" | "onwards" | "back";

/** Follows a region from the present frame; one that follows already is followed anew from here on. */
export async function follow(region: string, motion: MotionKind, ways: Ways): Promise<void> {
  const { frame, at } = useBench.getState();
  const body = { motion, first: ways === "onwards" ? (frame ?? 0) : 0, last: ways === "back" ? frame : null };
  await onThisDraft((path) => asked(api.POST(`${DRAFT}/track/{region}`, { params: { path: { ...path, region } }, body })));
  if (at) await answers.invalidateQueries({ queryKey: ["jobs", at.project] });
}

/** Strikes a job off the list; one that runs ends with what it has. */
export async function dismissJob(job: string): Promise<void> {
  const { at } = useBench.getState();
  if (!at) return;
  await asked(api.DELETE("/api/projects/{project}/jobs/{job}", { params: { path: { project: at.project, job } } }));
  await answers.invalidateQueries({ queryKey: ["jobs", at.project] });
}

const laid = new Set<string>();

/** Lays the motions that were found for this shot on its sheet, each once, and has what is to go along followed. */
export function useFollowed(project: string): void {
  const shot = useBench((state) => state.at?.shot);
  const ready = useBench((state) => state.saved !== null);
  const toFollow = useBench((state) => state.toFollow);
  const jobs = useJobs(project);
  useEffect(() => {
    if (!ready) return;
    for (const { id, of, region, track, state } of jobs) {
      if (state !== "done" || of !== shot || !track || !region || laid.has(id)) continue;
      laid.add(id);
      const { sheet } = useBench.getState();
      const found = regionOf(sheet, region);
      if (found && found.track?.motion !== track.motion) change(setTrack(sheet, region, track), `${found.name} follows`);
      void dismissJob(id);
    }
  }, [jobs, shot, ready]);
  useEffect(() => {
    if (toFollow.length === 0) return;
    useBench.setState({ toFollow: [] });
    void (async () => {
      for (const region of toFollow) await follow(region, "any", "both");
    })();
  }, [toFollow]);
}
