/** What declarations say about values. */

import type { Adjustment, Catalogue, Parameter, PartKind } from "../api/client";
import type { Value } from "../document/edit";

type Declared = { readonly parameters: readonly Parameter[] };

export function completeValues(declared: Declared, values: Readonly<Record<string, Value>>): Record<string, Value> {
  return Object.fromEntries(declared.parameters.map((p) => [p.id, values[p.id] ?? p.neutral]));
}

export function kindOf(catalogue: Catalogue, id: string): PartKind | undefined {
  return catalogue.parts.find((kind) => kind.id === id);
}

export function adjustmentOf(catalogue: Catalogue, id: string): Adjustment | undefined {
  return catalogue.adjustments.find((adjustment) => adjustment.id === id);
}

export function inGroup(catalogue: Catalogue, group: string): readonly Adjustment[] {
  return catalogue.adjustments.filter((adjustment) => adjustment.group === group);
}

/** Whether values say something: the first parameter is away from neutral. */
export function says(adjustment: Adjustment, values: Readonly<Record<string, Value>> | undefined): boolean {
  const main = adjustment.parameters[0];
  return main !== undefined && values !== undefined && (values[main.id] ?? main.neutral) !== main.neutral;
}
