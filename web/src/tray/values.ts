/** What declarations say about values. */

import type { Adjustment, Catalogue, Parameter, PartKind } from "../api/client";
import type { Value } from "../document/edit";

type Declared = { readonly parameters: readonly Parameter[] };

/** The neutral value of a parameter; of a curve it is no points. */
function neutral(parameter: Parameter): Value {
  return parameter.kind === "curve" ? [] : (parameter.neutral ?? "");
}

export function completeValues(declared: Declared, values: Readonly<Record<string, Value>>): Record<string, Value> {
  return Object.fromEntries(declared.parameters.map((p) => [p.id, values[p.id] ?? neutral(p)]));
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

/** Whether a part is another region of the shelf. */
export function standsFor(kind: PartKind): boolean {
  return kind.parameters.some((each) => each.kind === "region");
}

/** Whether values say something: what decides it is away from neutral. */
export function says(adjustment: Adjustment, values: Readonly<Record<string, Value>> | undefined): boolean {
  if (values === undefined) return false;
  const deciding = adjustment.switch === "first" ? adjustment.parameters.slice(0, 1) : adjustment.parameters.filter(isNumber);
  return deciding.some((each) => (values[each.id] ?? each.neutral) !== each.neutral);
}

export function isNumber(parameter: Parameter): boolean {
  return parameter.kind === "number";
}

/** Whether a parameter means something while the others stand as they do. */
export function holds(parameter: Parameter, values: Readonly<Record<string, Value>>): boolean {
  const [choice, ...options] = parameter.needs ?? [];
  return choice === undefined || options.includes(values[choice] as string);
}
