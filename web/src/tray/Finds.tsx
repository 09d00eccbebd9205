/** Subjects, faces and lines of text that were found, each offered with how sure it is; none is begun by itself. */

import { lazy, Suspense, useEffect, useRef, useState } from "react";
import type { Offer } from "../api/client";
import { beginStarter } from "../bench/begin";
import { beginOffer, findIn, KINDS } from "../bench/sampling";
import { useBench } from "../bench/store";
import { Button } from "../ui/Button";
import type { Draw } from "../bench/begin";
import { WordLine } from "../ui/Words";

const FoundAlong = lazy(async () => ({ default: (await import("./FoundAlong")).FoundAlong }));

const Features = lazy(async () => ({ default: (await import("./Features")).Features }));

/** So many of a kind are named in full. */
const MANY = 3;

function conceal(starter: string): void {
  useBench.setState({ suggestions: [] });
  void beginStarter(starter, null);
}

export function Finds({ draw }: { readonly draw: Draw }) {
  const offers = useBench((state) => state.suggestions);
  const at = useBench((state) => (state.clip ? state.at : null));
  const [says, setSays] = useState("");
  const [along, setAlong] = useState(false);
  const secret = offers.filter((offer) => offer.private).length;
  // what runs is looked for by this number; another one, or none, calls it off
  const run = useRef(0);
  const [looking, setLooking] = useState(false);
  const stop = (end: string) => {
    run.current += 1;
    setLooking(false);
    setSays(end);
  };
  useEffect(() => () => void (run.current += 1), []);
  const look = async () => {
    const mine = (run.current += 1);
    const found: Offer[] = [];
    setLooking(true);
    for (const [index, [kind, name]] of KINDS.entries()) {
      setSays(`Looking for ${name}, ${index + 1} of ${KINDS.length}…`);
      const some = await findIn(kind);
      if (mine !== run.current) return;
      if (!some) return stop("");
      found.push(...some.offers);
      useBench.setState({ suggestions: [...found] });
    }
    const all = await findIn();
    if (mine === run.current) stop(all?.says ?? "");
  };
  return (
    <>
    <WordLine className="mt-1 items-center">
      {says === "" ? (
        <Button title="Looks for people, faces and lettering, and offers each as a part; in a large picture for some seconds" onClick={() => void look()}>
          find subjects, faces, text
        </Button>
      ) : (
        <span role="status">{says}</span>
      )}
      {looking && <Button onClick={() => stop("")}>call off</Button>}
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
        <Button onClick={() => conceal("conceal")}>conceal all faces and text</Button>
      )}
      {secret > 0 && (
        <Button
          title="They read like a number, a plate or a name. See whether these are all"
          onClick={() => conceal("conceal-private")}
        >
          {secret === 1 ? "conceal the line that looks private" : `conceal the ${secret} lines that look private`}
        </Button>
      )}
      {offers.map((offer, index) => {
        const sure = `${Math.round(offer.certainty * 100)} % sure`;
        const name = nameOf(offers, index);
        // of many of a kind the number is enough: their names stand on the picture
        const many = offer.reads === "" && offers.filter((each) => each.name === offer.name).length > MANY;
        return (
          <Button
            key={offer.box.join(" ")}
            title={sure}
            aria-label={`${name}, ${sure}`}
            onClick={() => void beginOffer(draw, offer)}
          >
            {offer.reads !== "" ? name : many && !name.endsWith(" 1") ? name.replace(`${offer.name} `, "") : many ? name : `${name}, ${sure}`}
          </Button>
        );
      })}
    </WordLine>
    {offers.some((offer) => offer.closely) && (
      <Suspense>
        <Features offers={offers} />
      </Suspense>
    )}
    </>
  );
}

/** “face 1”, “face 2” where there are several; of a line that was read what it says. */
export function nameOf(offers: readonly Offer[], index: number): string {
  const { name = "", reads = "" } = offers[index] ?? {};
  if (reads !== "") return `“${reads}”`;
  const same = offers.filter((each) => each.name === name);
  return same.length > 1 ? `${name} ${offers.slice(0, index + 1).filter((each) => each.name === name).length}` : name;
}
