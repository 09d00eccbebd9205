/** The parameters that every pass and every part has, besides what is declared. */

import type { Parameter } from "../api/client";

function share(id: string, name: string, high: number): Parameter {
  return {
    id,
    name,
    kind: "number",
    unit: "share",
    neutral: 1,
    low: 0,
    high,
    floor: 0,
    ceiling: high,
    step: 0.01,
    curve: "linear",
    signed: false,
    turned: false,
  apart: false,
    needs: [],
    options: [],
    usual: [],
  };
}

export const STRENGTH = share("strength", "Strength", 2);
export const MIX = share("mix", "Mix", 1);
export const OPACITY = share("opacity", "Opacity", 1);
