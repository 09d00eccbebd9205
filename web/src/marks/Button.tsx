/** The kinds of button: a `word` stands in lines of text, `line` and `fill` end a dialog. */

import { Button as AriaButton, type ButtonProps } from "react-aria-components";

const KINDS = {
  word: "cursor-default border-b border-edge pt-0.5 pb-px text-[12px] leading-4 hover:bg-token",
  line: "btn btn-sm btn-outline border-edge px-2.5 text-[13px] font-medium hover:bg-token hover:text-ink",
  fill: "btn btn-sm btn-primary px-2.5 text-[13px] font-semibold",
};

type Props = ButtonProps & { readonly kind?: keyof typeof KINDS; readonly className?: string };

export function Button({ kind = "word", className = "", ...props }: Props) {
  return <AriaButton {...props} className={`${KINDS[kind]} disabled:opacity-55 ${className}`} />;
}
