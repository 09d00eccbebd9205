/** What opens under a word: the word is there at once, the code behind it when it is first pressed. */

import { type ComponentType, type LazyExoticComponent, type ReactNode, Suspense, useState } from "react";
import { Button } from "./Button";
import type { MenuProps } from "./MenuOpen";
import { soon } from "./soon";
import type { UnderProps } from "./UnderOpen";

type Named = { readonly name: ReactNode; readonly active?: boolean };

function opened<Props extends Named>(Open: LazyExoticComponent<ComponentType<Props>>, kind: "menu" | "dialog") {
  return function Word(props: Props) {
    const [pressed, setPressed] = useState(false);
    const word = (
      <Button
        look="quiet"
        className={props.active ? "font-semibold text-ink" : ""}
        aria-haspopup={kind}
        aria-expanded={false}
        onClick={() => setPressed(true)}
      >
        {props.name}
      </Button>
    );
    return pressed ? (
      <Suspense fallback={word}>
        <Open {...props} />
      </Suspense>
    ) : (
      word
    );
  };
}

export const Menu = opened<MenuProps>(soon(async () => (await import("./MenuOpen")).MenuOpen), "menu");
export const Under = opened<UnderProps>(soon(async () => (await import("./UnderOpen")).UnderOpen), "dialog");
