/** The server's answers that screens share, and what is declared, for those who are no component. */

import { QueryClient } from "@tanstack/react-query";
import type { Catalogue, PartKind } from "./client";

export const answers = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 0 } } });

/** A kind of part, once the catalogue is there. */
export function kindNamed(id: string): PartKind | undefined {
  return answers.getQueryData<Catalogue>(["catalogue"])?.parts.find((kind) => kind.id === id);
}
