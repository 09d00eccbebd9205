/** The lines of the frame on which something has just snapped. */

import { create } from "zustand";
import { type Guides, NO_GUIDES } from "../document/snap";

export const useGuides = create<Guides>()(() => NO_GUIDES);

export function showGuides(guides: Guides): void {
  useGuides.setState(guides);
}
