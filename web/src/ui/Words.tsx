/** Text beside controls: what is said in the book's face, and lines of words that act. */

import type { ComponentProps, ElementType } from "react";

type SayProps = Omit<ComponentProps<"p">, "ref"> & {
  readonly as?: ElementType;
  /** `small` in a tray, `sheet` as a line of the sheet */
  readonly look?: "usual" | "small" | "sheet";
};

const SAYS = {
  usual: "text-small text-ink-2",
  small: "mb-1 text-[13px] leading-[19px] text-ink-2",
  sheet: "px-5 py-2 text-sentence text-ink-2",
} as const;

export function Say({ as: Tag = "p", look = "usual", className = "", ...props }: SayProps) {
  return <Tag {...props} className={`font-book font-normal ${SAYS[look]} ${className}`} />;
}

type LineProps = Omit<ComponentProps<"div">, "ref"> & { readonly as?: ElementType };

/** Words beside each other; 24 px from row to row are room for a finger on each. */
export function WordLine({ as: Tag = "div", className = "", ...props }: LineProps) {
  return (
    <Tag
      {...props}
      className={`flex min-h-6 flex-wrap items-baseline gap-x-2.25 gap-y-0.5 text-label font-medium text-ink-2 [&_button]:min-w-6 ${className}`}
    />
  );
}

/** A line of a list; its end stands at the right. Where it is narrow the first of it takes a line of its own. */
export function Line({ as: Tag = "p", className = "", ...props }: LineProps) {
  return <Tag {...props} className={`flex flex-wrap items-baseline gap-x-2 font-medium text-ink-2 ${className}`} />;
}

export function LineEnd(props: ComponentProps<"span">) {
  return <span {...props} className="ml-auto flex items-baseline gap-2.5 whitespace-nowrap text-ink" />;
}
