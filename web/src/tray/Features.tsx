/** Features of the faces that were found, each as a region: of one face, of all, of all but one. */

import { useState } from "react";
import type { Offer } from "../api/client";
import { beginFeature } from "../bench/begin";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { WordLine } from "../ui/Words";

/** A feature, what it is called, and what it takes. */
const FEATURES = [
  ["face", "outline", "The outline of the face, as a curve"],
  ["skin", "skin", "The face less its eyes, brows, lips and nostrils"],
  ["eyes", "eyes", "Both eyes, as curves"],
  ["brows", "brows", "Both brows, as curves"],
  ["lips", "lips", "The lips, as a curve"],
  ["mouth", "mouth", "What lies between the lips"],
] as const;
const ALL = "all";

export function Features({ offers }: { readonly offers: readonly Offer[] }) {
  const faces = offers.filter((offer) => offer.name === "face");
  const close = faces.flatMap((face, k) => (face.closely ? [k] : []));
  const [of, setOf] = useState(ALL);
  const but = of.startsWith("-");
  const chosen = of === ALL ? close : but ? close.filter((k) => `-${k}` !== of) : [Number(of)];
  const options = [
    { id: ALL, name: "all faces" },
    ...close.map((k) => ({ id: String(k), name: `face ${k + 1}` })),
    ...(close.length > 2 ? close.map((k) => ({ id: `-${k}`, name: `all but ${k + 1}` })) : []),
  ];
  return (
    <WordLine className="mt-1 items-center">
      {close.length > 1 ? <Choice label="Of which face" lead="Of" options={options} value={of} onChange={setOf} /> : <span>Of the face</span>}
      {FEATURES.map(([id, name, says]) => (
        <Button key={id} title={says} onClick={() => void beginFeature(id, chosen)}>
          {name}
        </Button>
      ))}
    </WordLine>
  );
}
