/** What stands where a small picture could not be made. */

export function Missing() {
  return (
    <span role="img" aria-label="This picture could not be made" title="This picture could not be made" className="grid size-full place-items-center text-note text-ink-3">
      –
    </span>
  );
}
