/** A field for a line of text and a list to choose from, in the house's look. */

import type { ComponentProps } from "react";

const FIELD = "input input-sm h-7 rounded-token border-edge bg-field px-2.5 text-ui font-medium text-ink shadow-none";
const SELECT = "select w-auto rounded-token bg-field bg-none text-ink shadow-none";
const SIZES = {
  small: "select-xs h-5.5 border-line px-2 text-label font-medium",
  usual: "select-sm h-7 border-edge px-2.5 text-ui font-medium",
} as const;

export function Field({ className = "", ...props }: ComponentProps<"input">) {
  return <input {...props} className={`${FIELD} ${className}`} />;
}

type SelectProps = Omit<ComponentProps<"select">, "size"> & { readonly size?: keyof typeof SIZES };

export function Select({ className = "", size = "usual", ...props }: SelectProps) {
  return <select {...props} className={`${SELECT} ${SIZES[size]} ${className}`} />;
}
