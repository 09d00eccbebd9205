/** The sheet of keys. */

import { useCatalogue } from "../api/queries";
import { KEYS } from "../bench/keys";
import { Dialog } from "../marks/Dialog";

export function KeysDialog({ onClose }: { readonly onClose: () => void }) {
  const { data } = useCatalogue();
  return (
    <Dialog title="Keys" onClose={onClose}>
      <div className="keys">
        {KEYS.map(([key, what]) => (
          <div key={key}>
            <span>{what}</span>
            <span className="key">{key}</span>
          </div>
        ))}
      </div>
      <p className="say" style={{ marginTop: 14 }}>
        On a fader: arrows step, Shift is fine, Backspace and a double press go back to neutral, the wheel steps too.
        <br />
        On an outline: Alt and a press take a point out; on a curve, a double press makes it a corner or smooth again.
        {data && (
          <>
            <br />
            <span className="text-ink-3">Calado {data.version}</span>
          </>
        )}
      </p>
    </Dialog>
  );
}
