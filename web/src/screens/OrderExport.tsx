/** Ordering an export: the button, what is refused, and what a cover lets through before anything is written. */

import { type ExportOrder, Refusal } from "../api/client";
import { useOrderExport } from "../api/queries";
import { useBench } from "../bench/store";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

export function OrderExport({ project, body }: { readonly project: string; readonly body: ExportOrder }) {
  const order = useOrderExport(project);
  const unsaved = useBench((state) => state.saving !== "saved");
  const showing = order.error instanceof Refusal && order.error.code === "export.showing" ? order.error : null;
  return (
    <>
      <div className="flex items-center gap-4">
        <Button look="fill" disabled={order.isPending || unsaved} onClick={() => order.mutate(body)}>
          Export
        </Button>
        {order.error && !showing && (
          <Say as="span" role="alert">
            {order.error.message}
          </Say>
        )}
      </div>
      {showing && <Showing said={showing.said} onEvenSo={() => order.mutate({ ...body, even_so: true })} />}
    </>
  );
}

/** What a cover lets through, said once. */
function Showing({ said, onEvenSo }: { readonly said: readonly string[]; readonly onEvenSo: () => void }) {
  return (
    <div role="alert" className="mt-4 flex flex-col gap-2 border-l-2 border-edge pl-3">
      <p className="text-[13px] leading-5 font-semibold">Nothing is written yet: a cover does not conceal all it should.</p>
      <ul className="flex flex-col gap-1 font-(family-name:--book) text-[14px] leading-[22px]">
        {said.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
      <p className="text-[12px] leading-4 text-ink-2">
        Second look mends it, or a correction there. Exported all the same, these sentences stay with the file in the list below.
      </p>
      <span>
        <Button look="line" onClick={onEvenSo}>
          Export all the same
        </Button>
      </span>
    </div>
  );
}
