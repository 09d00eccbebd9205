/** What shows where: by the zoom that was chosen, or fitted. */

import { useBench } from "../bench/store";
import { fitted, type Size, type Zoom } from "../document/zoom";

export function useZoom(stage: Size | null, picture: Size): Zoom | null {
  const chosen = useBench((state) => state.zoom);
  return stage ? (chosen ?? fitted(stage, picture)) : null;
}
