/** Ways of holding the result against the source, under one word of the bar. */

import { useId, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { type Compare, toggleStrip, useBench } from "../bench/store";
import { Chevron } from "../marks/marks";

const WAYS: readonly (readonly [Compare, string, string])[] = [
  ["none", "Result alone", ""],
  ["wipe", "Wipe line", "W"],
  ["two-up", "Two-up, with the source or another shot", "U"],
];

export function CompareMenu() {
  const id = useId();
  const [at, setAt] = useState({ left: 0, top: 0 });
  const [open, setOpen] = useState(false);
  const [compare, view, source, strip] = useBench(
    useShallow((state) => [state.compare, state.view, state.source, state.strip]),
  );
  const active = compare !== "none" || view === "difference" || view === "surround" || strip !== "none";
  return (
    <>
      <button
        type="button"
        className="plain"
        popoverTarget={id}
        aria-expanded={open}
        aria-current={active}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          setAt({ left: box.left, top: box.bottom + 6 });
        }}
      >
        Compare <Chevron to="down" />
      </button>
      <div
        id={id}
        popover="auto"
        className="menu-list"
        role="group"
        aria-label="Compare with the source"
        style={at}
        onToggle={(event) => setOpen(event.newState === "open")}
      >
        {WAYS.map(([way, name, key]) => (
          <Item key={way} name={name} letter={key} on={compare === way} onPress={() => useBench.setState({ compare: way })} />
        ))}
        <span className="rule-across" />
        <Item name="Blink to the source" letter="B" on={source} onPress={() => useBench.setState({ source: !source })} />
        <Item
          name="Difference"
          letter="K"
          on={view === "difference"}
          onPress={() => useBench.setState({ view: view === "difference" ? "picture" : "difference" })}
        />
        <Item
          name="Surround alone"
          letter="J"
          on={view === "surround"}
          onPress={() => useBench.setState({ view: view === "surround" ? "picture" : "surround" })}
        />
        <span className="rule-across" />
        <Item name="Edge ribbon" letter="G" on={strip === "ribbon"} onPress={() => toggleStrip("ribbon")} />
        <Item name="Variants" letter="Y" on={strip === "variants"} onPress={() => toggleStrip("variants")} />
        <Item name="Scopes" letter="Q" on={strip === "scopes"} onPress={() => toggleStrip("scopes")} />
      </div>
    </>
  );
}

type ItemProps = { readonly name: string; readonly letter: string; readonly on: boolean; readonly onPress: () => void };

function Item({ name, letter, on, onPress }: ItemProps) {
  return (
    <button type="button" aria-pressed={on} onClick={onPress}>
      <span className="dot" />
      {name}
      {letter && <span className="key">{letter}</span>}
    </button>
  );
}
