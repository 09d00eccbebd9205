/** The order of a contact sheet: the project's own, which a drag changes, or by something else for the moment. */

import type { Shot } from "../api/client";

export type Order = "own" | "name" | "newest" | "passes";
export const ORDERS: Readonly<Record<Order, string>> = {
  own: "In their order",
  name: "By name",
  newest: "Newest first",
  passes: "Most passes first",
};

const BY: Readonly<Record<Exclude<Order, "own">, (a: Shot, b: Shot) => number>> = {
  name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
  newest: (a, b) => b.added.localeCompare(a.added),
  passes: (a, b) => b.passes.length - a.passes.length,
};

export function inOrder(shots: readonly Shot[], order: Order): readonly Shot[] {
  return order === "own" ? shots : shots.toSorted(BY[order]);
}

/** The shots' ids after one was dropped where another stood. */
export function dropped(shots: readonly Shot[], moved: unknown, onto: unknown): string[] {
  const ids = shots.map(({ id }) => id).filter((id) => id !== moved);
  const to = shots.findIndex(({ id }) => id === onto);
  return to < 0 ? shots.map(({ id }) => id) : [...ids.slice(0, to), String(moved), ...ids.slice(to)];
}
