/** What a cover lets through, before anything is written. */

import { Button } from "../ui/Button";

/** What a cover lets through, said once before anything is written. */
export function Showing({ said, onEvenSo }: { readonly said: readonly string[]; readonly onEvenSo: () => void }) {
  return (
    <div role="alert" className="mt-4 flex flex-col gap-2 border-l-2 border-edge pl-3">
      <p className="text-[13px] leading-5 font-semibold">Nothing is written yet: a cover does not conceal all it should.</p>
      <ul className="flex flex-col gap-1 font-(family-name:--book) text-[14px] leading-[22px]">
        {said.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
      <p className="text-[12px] leading-4 text-ink-2">
        Second look mends it. Exported all the same, these sentences stay with the file in the list below.
      </p>
      <span>
        <Button look="line" onClick={onEvenSo}>
          Export all the same
        </Button>
      </span>
    </div>
  );
}
