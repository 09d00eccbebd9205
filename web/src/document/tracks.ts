/** What is done to a motion that a region goes along with, as pure functions: laid on it, its corrections moved and removed. */

import type { Fix, Region, Sheet, Stroke } from "../api/client";
import { markedPart } from "./follow";

/** A correction goes. */
export function removeFix(sheet: Sheet, id: string, frame: number): Sheet {
  return ofTrack(sheet, id, (region) => {
    if (!region.track) return region;
    return { ...region, track: { ...region.track, fixes: without(region.track.fixes, frame), marks: without(region.track.marks, frame) } };
  });
}

const without = <Of>(by: Readonly<Record<string, Of>> | undefined, frame: number): Record<string, Of> =>
  Object.fromEntries(Object.entries(by ?? {}).filter(([at]) => at !== String(frame)));

/** Marks are put on what was cut in a frame; none where the region was marked. */
export function setMarks(sheet: Sheet, id: string, frame: number, strokes: Stroke[]): Sheet {
  return ofTrack(sheet, id, (region) => {
    if (!region.track || region.track.at === frame) return region;
    return { ...region, track: { ...region.track, marks: { ...region.track.marks, [frame]: strokes } } };
  });
}

/** A correction is set at a frame; none where the region was marked. */
export function setFix(sheet: Sheet, id: string, frame: number, fix: Fix): Sheet {
  return ofTrack(sheet, id, (region) => {
    if (!region.track || region.track.at === frame) return region;
    return { ...region, track: { ...region.track, fixes: { ...region.track.fixes, [frame]: fix } } };
  });
}

/** A correction goes to another frame; one that stood there gives way. */
export function moveFix(sheet: Sheet, id: string, from: number, to: number): Sheet {
  return ofTrack(sheet, id, (region) => {
    const fix = region.track?.fixes?.[String(from)];
    if (!region.track || !fix || from === to) return region;
    return { ...region, track: { ...region.track, fixes: { ...without(region.track.fixes, from), [to]: fix } } };
  });
}

/** A region goes along with a motion, or no more. */
export function setTrack(sheet: Sheet, id: string, track: Region["track"]): Sheet {
  return ofTrack(sheet, id, (region) => (track ? { ...region, track } : { ...region, parts: region.parts.map(markedPart), track: null }));
}

function ofTrack(sheet: Sheet, id: string, to: (region: Region) => Region): Sheet {
  return { ...sheet, regions: sheet.regions.map((region) => (region.id === id ? to(region) : region)) };
}
