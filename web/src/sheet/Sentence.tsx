/** A pass in words: tokens from the server become buttons. */

import type { Pass, Description, Token } from "../api/client";
import { change } from "../bench/saving";
import { select, useBench } from "../bench/store";
import { type Side, swapSides } from "../document/edit";
import { Glyph } from "../icons/icons";
import { InlineButton } from "./InlineButton";

type Props = {
  readonly pass: Pass;
  readonly told: Description | undefined;
  readonly groupOf: (adjustment: string) => string;
  /** the number of a token as the tray shows it, while the server cannot tell; null: as it was told */
  readonly valueOf: (pass: Pass, token: Token) => string | null;
};

const TOLD = "told col-start-2 font-book text-sentence font-normal tabular-nums lining-nums group-data-off/pass:text-ink-3";

export function Sentence({ pass, told, groupOf, valueOf }: Props) {
  if (!told) return <p data-told className={TOLD}>…</p>;
  return (
    <p data-told className={TOLD}>
      {told.tokens.map((token, index) => (
        // the tokens of a sentence have no names of their own; their order is their identity
        <TokenView key={`${index}-${token.kind}`} {...{ pass, token, groupOf, valueOf }} />
      ))}
    </p>
  );
}

type TokenProps = Omit<Props, "told"> & { readonly token: Token };

function TokenView({ pass, token, groupOf, valueOf }: TokenProps) {
  switch (token.kind) {
    case "side":
      return <SideToken pass={pass} token={token} />;
    case "text":
      return token.text;
    case "where":
      return <WhereToken pass={pass} token={token} />;
    case "what":
      return <WhatToken {...{ pass, token, valueOf }} group={groupOf(token.adjustment)} />;
  }
}

/** The side word: a press lets the pass do inside what it did outside. */
function SideToken({ pass, token }: Pick<TokenProps, "pass" | "token">) {
  if (!pass.region) return <i>{token.text}</i>;
  const swap = () => {
    change(swapSides(useBench.getState().sheet, pass.id), `sides of ${pass.name}`);
    const { selection: choice } = useBench.getState();
    if (choice.kind === "what" && choice.pass === pass.id) select({ ...choice, side: choice.side === "inside" ? "outside" : "inside" });
  };
  return (
    <InlineButton token="side" className="italic" name={`${token.text}: swap the sides of ${pass.name}`} onPress={swap}>
      {token.text}
    </InlineButton>
  );
}

function WhereToken({ pass, token }: Pick<TokenProps, "pass" | "token">) {
  const chosen = useBench((state) => state.selection.kind === "where" && state.selection.pass === pass.id);
  return (
    <InlineButton
      token="where"
      className={`where${chosen ? " chosen" : ""}`}
      pressed={chosen}
      onPress={() => select({ kind: "where", pass: pass.id, region: pass.region ?? null, part: null })}
    >
      <Glyph path={token.glyph} />
      <span>{token.text}</span>
    </InlineButton>
  );
}

function WhatToken({ pass, token, group, valueOf }: Omit<TokenProps, "groupOf"> & { readonly group: string }) {
  const side: Side = token.side ?? "inside";
  const chosen = useBench(
    ({ selection: choice }) =>
      choice.kind === "what" &&
      choice.pass === pass.id &&
      choice.side === side &&
      choice.adjustment === token.adjustment,
  );
  const untold = useBench((state) => state.saving === "offline");
  const words = token.text.split(" ");
  const last = words.pop();
  return (
    <InlineButton
      token="what"
      className={`what${chosen ? " chosen" : ""}`}
      pressed={chosen}
      onPress={() => select({ kind: "what", pass: pass.id, side, group, adjustment: token.adjustment })}
    >
      {words.length > 0 && `${words.join(" ")} `}
      <span className="whitespace-nowrap [text-decoration:inherit]">
        {last} <b>{(untold ? valueOf(pass, token) : null) ?? token.value}</b>
      </span>
    </InlineButton>
  );
}
