/** The sheet of keys: what each does, a way to give it another, and a switch. */

import { type KeyboardEvent, useState } from "react";
import { useCatalogue } from "../api/queries";
import { giveKey, keyOf, SINGLES, type Single, shown, switchKey, useKeymap, usualKeys } from "../bench/keymap";
import { CHORDS } from "../bench/keys";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { BeadSwitch } from "../icons/icons";
import { Kbd } from "../ui/Kbd";
import { Say } from "../ui/Words";

const ROW = "flex min-h-7 items-center gap-3 border-b border-line py-0.5";

export function KeysDialog({ onClose }: { readonly onClose: () => void }) {
  const { data } = useCatalogue();
  const [says, setSays] = useState("");
  const changed = useKeymap((state) => Object.keys(state.own).length > 0);
  return (
    <Dialog title="Keys" onClose={onClose}>
      <p className="mt-1 flex min-h-6 items-baseline gap-4 text-label font-medium text-ink-2" role="status">
        {says || "Press a key below to give it another; the bead switches it off. Kept in this browser."}
        {changed && (
          <Button
            onClick={() => {
              usualKeys();
              setSays("All keys are as they came.");
            }}
          >
            all as they came
          </Button>
        )}
      </p>
      <div className="mt-2 grid grid-cols-2 gap-x-8">
        {SINGLES.map((each) => (
          <OneKey key={each.id} single={each} onSaid={setSays} />
        ))}
        {CHORDS.map(([key, what]) => (
          <div key={key} className={ROW}>
            <span className="mr-auto">{what}</span>
            <Kbd>{key}</Kbd>
          </div>
        ))}
      </div>
      <Say className="mt-3.5">
        On a fader: arrows step, Shift is fine, Backspace and a double press go back to neutral, the wheel steps too.
        <br />
        On an outline: Alt and a press take a point out; on a curve, a double press makes it a corner or smooth again.
        {data && (
          <>
            <br />
            <span className="text-ink-3">Calado {data.version}</span>
          </>
        )}
      </Say>
    </Dialog>
  );
}

type OneProps = { readonly single: Single; readonly onSaid: (says: string) => void };

function OneKey({ single: { id, says, held }, onSaid }: OneProps) {
  const key = useKeymap((state) => keyOf(id, state.own));
  const [asking, setAsking] = useState(false);
  const take = (event: KeyboardEvent) => {
    if (!asking || event.key === "Tab" || event.key === "Shift") return;
    event.preventDefault();
    event.stopPropagation();
    setAsking(false);
    if (event.key === "Escape") return;
    onSaid(giveKey(id, event.key) || `${shown(event.key)} now: ${says}.`);
  };
  return (
    <div className={`${ROW} ${key === "" ? "text-ink-3" : ""}`}>
      <span className="mr-auto">{says}</span>
      {held && key !== "" && <span className="text-note text-ink-3">hold</span>}
      <button
        type="button"
        aria-label={`${says}: ${asking ? "press another key" : key === "" ? "no key" : shown(key)}`}
        className="rounded-token hover:bg-token"
        onClick={() => setAsking(!asking)}
        onKeyDown={take}
        onBlur={() => setAsking(false)}
      >
        <Kbd className={asking ? "!border-ink !text-ink" : ""}>{asking ? "press a key" : key === "" ? "none" : shown(key)}</Kbd>
      </button>
      <BeadSwitch on={key !== ""} label={`key for ${says}`} onChange={(on) => onSaid(switchKey(id, on))} />
    </div>
  );
}
