/** A dialog that the browser itself keeps in front, with focus inside and Escape to close. */

import { type ReactNode, useEffect, useRef } from "react";
import { Button } from "../ui/Button";

type Props = { readonly title: string; readonly onClose: () => void; readonly children: ReactNode };

export function Dialog({ title, onClose, children }: Props) {
  const element = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const dialog = element.current;
    if (dialog && !dialog.open) dialog.showModal();
  }, []);
  return (
    // one that is opened from within this one tells this one too when it closes
    <dialog ref={element} className="modal" aria-label={title} onClose={(event) => event.target === event.currentTarget && onClose()}>
      <div className="modal-box bg-sheet text-ink [box-shadow:var(--shadow)] py-6 px-7 w-155 max-w-[92vw] max-h-[88vh]">
      <div className="flex items-baseline">
        <h1 className="font-book text-title font-medium">{title}</h1>
        <Button look="quiet" className="ml-auto" onClick={() => element.current?.close()}>
          Close
        </Button>
      </div>
      {children}
      </div>
      <form method="dialog" className="modal-backdrop">
        <button type="submit">close</button>
      </form>
    </dialog>
  );
}
