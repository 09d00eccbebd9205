/** How loud a clip is, as a line along the ruler. */

import { useQuery } from "@tanstack/react-query";
import { api, asked, type Shot } from "../api/client";
import { useBench } from "../bench/store";

/** The line has so many steps at most. */
const STEPS = 600;

export function Sound({ shot }: { readonly shot: Shot }) {
  const project = useBench((state) => state.at?.project ?? null);
  const { data: peaks, isError } = useQuery({
    queryKey: ["peaks", shot.id],
    queryFn: () => asked(api.GET("/api/projects/{project}/shots/{shot}/peaks", { params: { path: { project: project ?? "", shot: shot.id } } })),
    enabled: project !== null,
    staleTime: Infinity,
    retry: false,
  });
  if (isError) return <span className="row-start-3 self-center text-ink-3">The sound could not be read.</span>;
  if (!peaks) return null;
  const some = Math.max(1, Math.ceil(peaks.length / STEPS));
  const loud = Array.from({ length: Math.ceil(peaks.length / some) }, (_, k) => Math.max(...peaks.slice(k * some, (k + 1) * some)));
  const path = loud.map((each, k) => `M${k + 0.5} ${10 - 9 * each}V${10 + 9 * each}`).join("");
  return (
    <svg className="row-start-3 block h-full w-full" viewBox={`0 0 ${loud.length} 20`} preserveAspectRatio="none" role="img" aria-label="Loudness of the sound">
      <path d={path} stroke="var(--color-ink-3)" strokeWidth="1" vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
