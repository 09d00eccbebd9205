/** What the report and the statement of an export have in common. */

import type { Report } from "../api/client";
import { LOOKS } from "../ui/Button";
import { Say, WordLine } from "../ui/Words";

/** The same to hand on. */
export function HandOn({ at }: { readonly at: string }) {
  return (
    <WordLine className="mt-1">
      <a className={LOOKS.word} href={`${at}.pdf`} download>
        PDF
      </a>
      <a className={LOOKS.word} href={`${at}.csv`} download>
        table (CSV)
      </a>
    </WordLine>
  );
}

/** What was written, and of what. */
export function Facts({ written, of }: Pick<Report, "written" | "of">) {
  return (
    <dl className="mt-3 grid grid-cols-[6.5rem_1fr] gap-y-1 text-label text-ink-2 [&_dd]:text-ink">
      <dt>File</dt>
      <dd>
        {written.file}, {written.size_bytes.toLocaleString("en")} bytes
      </dd>
      <dt>SHA-256</dt>
      <dd className="break-all">{written.sha256}</dd>
      <dt>Written</dt>
      <dd>
        {written.when}, by Calado {written.version}, revision {written.revision}
      </dd>
      <dt>Of</dt>
      <dd>
        {of.clip}
        {of.frames > 1 && `, frames ${of.first} to ${of.last} of ${of.frames}`}
      </dd>
    </dl>
  );
}

export function Heading({ children }: { readonly children: string }) {
  return <h2 className="mt-5 mb-1 font-book text-[17px] font-medium">{children}</h2>;
}

export function Lines({ heading, lines }: { readonly heading: string; readonly lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <section>
      <Heading>{heading}</Heading>
      {lines.map((line) => (
        <Say key={line}>{line}</Say>
      ))}
    </section>
  );
}
