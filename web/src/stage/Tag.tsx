/** What a side of the stage shows, over the picture. */

import type { ComponentProps } from "react";

export function Tag({ className = "", ...props }: ComponentProps<"div">) {
  return (
    <div
      {...props}
      className={`pointer-events-none absolute bottom-2.5 rounded-[2px] bg-[oklch(0.12_0_0/0.78)] px-1.5 py-px text-note font-medium text-thread ${className}`}
    />
  );
}
