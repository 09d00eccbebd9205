/** Subjects, faces and lines of text that were found, each offered with how sure it is; none is begun by itself. */

import { lazy, Suspense, useState } from "react";
import type { Offer } from "../api/client";
import { beginStarter } from "../bench/begin";
import { beginOffer, findAll } from "../bench/sampling";
import { useBench } from "../bench/store";
import { Button } from "../ui/Button";
import type { Draw } from "../bench/begin";
import { WordLine } from "../ui/Words";

const FoundAlong = lazy(async () => ({ default: (await import("./FoundAlong")).FoundAlong }));

/** So many of a kind are named in full. */
const MANY = 3;

function concealAll(): void {
  useBench.setState({ suggestions: [] });
  void beginStarter("conceal", null);
}

export function Finds({ draw }: { readonly draw: Draw }) {
  const offers = useBench((state) => state.suggestions);
  const at = useBench((state) => (state.clip ? state.at : null));
  const [says, setSays] = useState("");
  const [along, setAlong] = useState(false);
  const look = async () => {
    setSays("Looking…");
    const found = await findAll();
    setSays(found?.says ?? "");
    useBench.setState({ suggestions: found?.offers ?? [] });
  };
  return (
    <WordLine className="mt-1 items-center">
      {says === "" ? (
        <Button title="Looks for people, faces and lettering, and offers each as a part; in a large picture for some seconds" onClick={() => void look()}>
          find subjects, faces, text
        </Button>
      ) : (
        <span role="status">{says}</span>
      )}
      {at && says === "" && (
        <Button title="Looks for all faces and lettering in the whole clip, and lists each once" onClick={() => setAlong(true)}>
          find along the clip…
        </Button>
      )}
      {at && along && (
        <Suspense>
          <FoundAlong at={at} onClose={() => setAlong(false)} />
        </Suspense>
      )}
      {offers.some((offer) => offer.name === "face" || offer.name === "text") && (
        <Button onClick={concealAll}>conceal all faces and text</Button>
      )}
      {offers.map((offer, index) => {
        const sure = `${Math.round(offer.certainty * 100)} % sure`;
        const name = nameOf(offers, index);
        // of many of a kind the number is enough: their names stand on the picture
        const many = offers.filter((each) => each.name === offer.name).length > MANY;
        return (
          <Button
            key={offer.box.join(" ")}
            title={sure}
            aria-label={`${name}, ${sure}`}
            onClick={() => void beginOffer(draw, offer)}
          >
            {many && !name.endsWith(" 1") ? name.replace(`${offer.name} `, "") : many ? name : `${name}, ${sure}`}
          </Button>
        );
      })}
    </WordLine>
  );
}

/** “face 1”, “face 2” where there are several. */
export function nameOf(offers: readonly Offer[], index: number): string {
  const { name = "" } = offers[index] ?? {};
  const same = offers.filter((each) => each.name === name);
  return same.length > 1 ? `${name} ${offers.slice(0, index + 1).filter((each) => each.name === name).length}` : name;
}
