/** Ways of holding the result against the source, under one word of the bar. */

import { useShallow } from "zustand/react/shallow";
import { keyOf, shown, useKeymap } from "../bench/keymap";
import { type Compare, togglePanel, useBench, type ViewName } from "../bench/store";
import { Chevron } from "../icons/icons";
import type { Line } from "../ui/MenuOpen";
import { Menu } from "../ui/pressed";

const WAYS: readonly (readonly [Compare, string])[] = [
  ["none", "Result alone"],
  ["wipe", "Wipe line"],
  ["two-up", "Two-up, with the source or another shot"],
];
const OVER_TIME: readonly [Compare, string] = ["in turn", "In turn, a loop each while it plays"];
const STRIPS = [
  ["ribbon", "Edge ribbon"],
  ["variants", "Variants"],
  ["scopes", "Scopes"],
] as const;

export function CompareMenu() {
  const [compare, view, source, strip] = useBench(
    useShallow((state) => [state.compare, state.view, state.source, state.panel]),
  );
  const clip = useBench((state) => state.clip);
  const own = useKeymap((state) => state.own);
  const letter = (id: string) => shown(keyOf(id, own));
  const active = compare !== "none" || ["difference", "surround", "beyond"].includes(view) || strip !== "none";
  const look = (id: ViewName, name: string): Line => ({
    id,
    name,
    letter: letter(id),
    on: view === id,
    onPress: () => useBench.setState({ view: view === id ? "picture" : id }),
  });
  const ways = (clip ? [...WAYS, OVER_TIME] : WAYS).map(([id, name]) => ({ id, name, letter: letter(id), on: compare === id, onPress: () => useBench.setState({ compare: id }) }));
  const views = [
    { id: "blink", name: "Blink to the source", letter: letter("blink"), on: source, onPress: () => useBench.setState({ source: !source }) },
    look("difference", "Difference"),
    look("beyond", "Beyond white"),
    look("surround", "Surround alone"),
  ];
  const strips = STRIPS.map(([id, name]) => ({ id, name, letter: letter(id), on: strip === id, onPress: () => togglePanel(id) }));
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
