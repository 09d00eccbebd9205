/** The statement of what an export changed, to be read here or handed on. */

import { useQuery } from "@tanstack/react-query";
import { api, asked, type Export } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { Say } from "../ui/Words";
import { Facts, HandOn, Heading } from "./Told";

type Props = { readonly project: string; readonly item: Export; readonly onClose: () => void };

export function StatementDialog({ project, item, onClose }: Props) {
  const { data, error } = useQuery({
    queryKey: ["statement", item.id],
    queryFn: () => asked(api.GET("/api/projects/{project}/exports/{export}/statement", { params: { path: { project, export: item.id } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <Dialog title="Statement of changes" onClose={onClose}>
      {error && <Say role="alert">{error.message}</Say>}
      {!data && !error && <Say>It is read from the picture…</Say>}
      {data && (
        <>
          <HandOn at={`/api/projects/${project}/exports/${item.id}/statement`} />
          <Facts written={data.written} of={data.of} />
          <Say className="mt-4">{data.says}</Say>
          {data.done.map((each, number) => (
            <section key={`${number} ${each.name}`} aria-label={each.name}>
              <Heading>{each.name}</Heading>
              <Say>{each.says}</Say>
              <Say look="small">
                Changes about {(100 * each.share).toFixed(1)} % of the picture.{each.kinds.length > 0 && ` It ${each.kinds.join(", ")}.`}
              </Say>
            </section>
          ))}
          <Say look="small" className="mt-5">
            {data.read}
          </Say>
        </>
      )}
    </Dialog>
  );
}
