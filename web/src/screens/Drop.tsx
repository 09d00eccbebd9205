/** One lattice tile with an oval opening: drop stills or clips anywhere on the screen, or choose files. */

import { useId, useRef } from "react";
import { useDropped } from "./dropped";

export function Drop({ onFiles }: { readonly onFiles: (files: readonly File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const over = useDropped(onFiles);
  const id = useId();
  const threads = Array.from({ length: 50 }, (_, i) => i - 20)
    .map((i) => `M${i * 14} 0l182 182M${i * 14 + 182} 0l-182 182`)
    .join("");
  return (
    <>
      <button
        type="button"
        className="relative grid aspect-3/2 w-full place-content-center text-center text-ink-2 [&>svg]:absolute [&>svg]:inset-0 [&>svg]:size-full"
        onClick={() => input.current?.click()}
      >
        <svg viewBox="0 0 272 182" preserveAspectRatio="xMidYMid slice" aria-hidden>
          <mask id={id}>
            <rect width="272" height="182" fill="#fff" />
            <ellipse cx="136" cy="91" rx="92" ry="50" fill="#000" />
          </mask>
          <path mask={`url(#${id})`} d={threads} stroke="var(--color-edge)" strokeWidth=".9" opacity=".8" />
          <ellipse cx="136" cy="91" rx="92" ry="50" fill="none" className={over ? "stroke-mark-line stroke-2" : "stroke-edge"} />
        </svg>
        <span className="relative">
          Drop stills or clips anywhere
          <br />
          <u className="text-ink underline-offset-3">or choose files</u>
        </span>
      </button>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        aria-label="Add stills or clips"
        accept="image/jpeg,image/png,image/tiff,image/webp,image/x-exr,.exr,video/*,.mkv,.mov,.mxf,.ts,.mpg,.avi"
        onChange={(event) => {
          onFiles([...(event.currentTarget.files ?? [])]);
          event.currentTarget.value = "";
        }}
      />
    </>
  );
}
