/** What a motion tells, asked once. */

import { useQuery } from "@tanstack/react-query";
import { type Address, api, asked } from "./client";

/** How sure a motion is; it never changes. */
export function useMotion(at: Address | null, motion: string | null) {
  return useQuery({
    queryKey: ["motion", at?.shot, motion],
    queryFn: () => {
      const path = { project: at?.project ?? "", shot: at?.shot ?? "", motion: motion ?? "" };
      return asked(api.GET("/api/projects/{project}/shots/{shot}/motions/{motion}", { params: { path } }));
    },
    enabled: at !== null && motion !== null,
    staleTime: Number.POSITIVE_INFINITY,
  });
}
