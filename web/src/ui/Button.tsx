/** The buttons: a `word` stands in lines of text, `quiet` and `icon` in bars, `line` and `fill` end a dialog. */

import type { ComponentProps } from "react";

/** How each looks, also for links that stand among them. */
export const LOOKS = {
  word: "border-b border-edge pt-0.5 pb-px font-face text-label font-medium text-ink hover:bg-token disabled:opacity-55 aria-pressed:border-b-2 aria-pressed:border-ink aria-pressed:font-semibold pointer-coarse:inline-flex pointer-coarse:min-h-8 pointer-coarse:min-w-8 pointer-coarse:items-end",
  quiet:
    "inline-flex h-7 items-center gap-1.5 rounded-token px-2.5 text-ui font-medium whitespace-nowrap text-ink-2 transition-[background] enabled:hover:bg-token disabled:text-ink-3 disabled:opacity-55 aria-[current=true]:font-semibold aria-[current=true]:text-ink aria-pressed:font-semibold aria-pressed:text-ink pointer-coarse:min-h-8 pointer-coarse:min-w-8 [:where(header)_&]:px-1.5 max-[1280px]:[:where(header)_&]:px-1.25",
  icon: "inline-flex h-7 items-center rounded-token px-1.5 text-ink-2 transition-[background] enabled:hover:bg-token disabled:text-ink-3 disabled:opacity-55 pointer-coarse:min-h-8 pointer-coarse:min-w-8",
  line: "btn btn-sm btn-outline border-edge px-2.5 text-ui font-medium text-ink hover:bg-token hover:text-ink disabled:opacity-55 pointer-coarse:min-h-8",
  fill: "btn btn-sm btn-primary px-2.5 text-ui font-semibold hover:bg-ink-2 disabled:opacity-55 pointer-coarse:min-h-8",
} as const;

export type Look = keyof typeof LOOKS;

type Props = ComponentProps<"button"> & { readonly look?: Look };

export function Button({ look = "word", className = "", type = "button", ...props }: Props) {
  return <button {...props} type={type} className={`${LOOKS[look]} ${className}`} />;
}
