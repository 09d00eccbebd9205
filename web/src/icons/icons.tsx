/** Calado's own marks: openwork outside, whole inside. */

import { useId } from "react";

export function Logo() {
  return (
    <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.3" aria-hidden>
      <path d="M10 .9 19.1 10 10 19.1.9 10z" />
      <path d="M5.45 5.45 8 8M14.55 5.45 12 8M5.45 14.55 8 12M14.55 14.55 12 12" />
      <circle cx="10" cy="10" r="2.85" />
    </svg>
  );
}

/** The mark of the whole picture. */
export const WHOLE = "M0 0h18v13H0z";

/** A small openwork with the shape of a part cut out of it. */
export function Glyph({ path }: { readonly path: string }) {
  const id = useId();
  const threads = Array.from({ length: 8 }, (_, k) => k * 4 - 13)
    .map((x) => `M${x + 0.5} 0l13 13M${x + 13.5} 0l-13 13`)
    .join("");
  return (
    <svg className="[vertical-align:-1.5px] mr-1.25 w-4.5 h-3.25 inline-block" viewBox="0 0 18 13" aria-hidden>
      <mask id={id}>
        <rect width="18" height="13" fill="#fff" />
        <path d={path} fill="#000" stroke="#000" strokeWidth="2.4" />
      </mask>
      <path mask={`url(#${id})`} d={threads} stroke="currentColor" strokeWidth=".85" fill="none" />
      <path d={path} fill="currentColor" />
    </svg>
  );
}

export function SideGlyph({ inside }: { readonly inside: boolean }) {
  return (
    <svg width="16" height="12" viewBox="0 0 16 12" aria-hidden>
      {inside ? (
        <>
          <rect x=".5" y=".5" width="15" height="11" fill="none" stroke="currentColor" />
          <ellipse cx="8" cy="6" rx="4.5" ry="3.5" fill="currentColor" />
        </>
      ) : (
        <path
          fillRule="evenodd"
          d="M0 0H16V12H0zM8 2.5a4.5 3.5 0 100 7 4.5 3.5 0 100-7z"
          fill="currentColor"
        />
      )}
    </svg>
  );
}

/** Crosshatch that fills its frame. */
export function Hatch({ pitch, width, colour }: { readonly pitch: number; readonly width: number; readonly colour: string }) {
  const id = useId();
  return (
    <svg aria-hidden>
      <pattern id={id} width={pitch} height={pitch} patternUnits="userSpaceOnUse">
        <path d={`M0 0L${pitch} ${pitch}M${pitch} 0L0 ${pitch}`} stroke={colour} strokeWidth={width} />
      </pattern>
      <rect width="100%" height="100%" fill={`url(#${id})`} />
    </svg>
  );
}

/** Done is worked openwork, the rest two bare threads. */
export function ProgressBar({ share, label }: { readonly share: number; readonly label: string }) {
  const id = useId();
  const at = Math.round(share * 1000) / 10;
  return (
    <svg
      className="block w-full h-2.5 mt-1.5"
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at)}
    >
      <pattern id={id} width="6" height="8" patternUnits="userSpaceOnUse" y="1">
        <path d="M0 0L6 8M6 0L0 8" stroke="var(--color-ink)" strokeWidth=".9" />
      </pattern>
      <rect y="0" width="100%" height="1" fill="var(--color-edge)" />
      <rect y="9" width="100%" height="1" fill="var(--color-edge)" />
      <rect y="1" width={`${at}%`} height="8" fill={`url(#${id})`} />
      <rect x={`${at}%`} width="2" height="10" fill="var(--color-ink)" />
    </svg>
  );
}

type Direction = "left" | "right" | "down";

export function Chevron({ to }: { readonly to: Direction }) {
  const d = { left: "M6.5 1.5 2 6l4.500 4.500", right: "M1.5 1.5 6 6 1.5 10.5", down: "M.5 4.5 4 8 7.500 4.500" }[to];
  return (
    <svg width="8" height="12" viewBox="0 0 8 12" aria-hidden>
      <path d={d} fill="none" stroke="currentColor" strokeWidth="1.4" />
    </svg>
  );
}

export function TurnArrow({ back }: { readonly back: boolean }) {
  const d = back
    ? "M5.5 3 2.5 6l3 3M3 6h6.500a3.750 3.750 0 010 7.500H6"
    : "M10.5 3 13.500 6l-3 3M13 6H6.500a3.750 3.750 0 000 7.500H10";
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" fill="none" stroke="currentColor" strokeWidth="1.4" aria-hidden>
      <path d={d} />
    </svg>
  );
}

export function Lens() {
  return (
    <svg width="16" height="16" viewBox="0 0 14 14" fill="none" stroke="currentColor" strokeWidth="1.3" aria-hidden>
      <circle cx="6" cy="6" r="4.25" />
      <path d="M9.25 9.25 13 13" />
    </svg>
  );
}

type SwitchProps = { readonly on: boolean; readonly label: string; readonly onChange: (on: boolean) => void };

/** A bead on a thread: right and filled is on. */
export function BeadSwitch({ on, label, onChange }: SwitchProps) {
  return (
    <button
      type="button"
      className="w-5 h-3 flex-none rounded-token relative after:content-[''] after:absolute after:[inset:-6px_-4px]"
      role="switch"
      aria-checked={on}
      aria-label={label}
      onClick={() => onChange(!on)}
    >
      <svg viewBox="0 0 20 12" aria-hidden>
        <path d="M1 6H19" stroke="var(--color-edge)" strokeWidth="1.5" />
        {on ? (
          <circle cx="15" cy="6" r="4.5" fill="var(--color-ink)" />
        ) : (
          <circle cx="5" cy="6" r="3.8" fill="var(--color-sheet)" stroke="var(--color-edge)" strokeWidth="1.5" />
        )}
      </svg>
    </button>
  );
}
