/** Ways of holding the result against the source, under one word of the bar. */

import { useShallow } from "zustand/react/shallow";
import { type Compare, toggleStrip, useBench, type ViewName } from "../bench/store";
import { Chevron } from "../marks/marks";
import { type Line, Menu } from "../ui/Menu";

const WAYS: readonly (readonly [Compare, string, string])[] = [
  ["none", "Result alone", ""],
  ["wipe", "Wipe line", "W"],
  ["two-up", "Two-up, with the source or another shot", "U"],
];
const STRIPS = [
  ["ribbon", "Edge ribbon", "G"],
  ["variants", "Variants", "Y"],
  ["scopes", "Scopes", "Q"],
] as const;

export function CompareMenu() {
  const [compare, view, source, strip] = useBench(
    useShallow((state) => [state.compare, state.view, state.source, state.strip]),
  );
  const active = compare !== "none" || view === "difference" || view === "surround" || strip !== "none";
  const look = (id: ViewName, name: string, letter: string): Line => ({
    id,
    name,
    letter,
    on: view === id,
    onPress: () => useBench.setState({ view: view === id ? "picture" : id }),
  });
  const ways = WAYS.map(([id, name, letter]) => ({ id, name, letter, on: compare === id, onPress: () => useBench.setState({ compare: id }) }));
  const views = [
    { id: "blink", name: "Blink to the source", letter: "B", on: source, onPress: () => useBench.setState({ source: !source }) },
    look("difference", "Difference", "K"),
    look("surround", "Surround alone", "J"),
  ];
  const strips = STRIPS.map(([id, name, letter]) => ({ id, name, letter, on: strip === id, onPress: () => toggleStrip(id) }));
  return (
    <Menu
      name={
        <>
          Compare <Chevron to="down" />
        </>
      }
      label="Compare with the source"
      active={active}
      sections={[
        { single: true, lines: ways },
        { single: false, lines: views },
        { single: false, lines: strips },
      ]}
    />
  );
}
