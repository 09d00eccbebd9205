/** A word that lets a file be chosen. */

import { useRef } from "react";
import { Button } from "../ui/Button";

type Props = { readonly name: string; readonly accept: string; readonly onFile: (file: File) => void };

export function FileWord({ name, accept, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>
        {name}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        aria-label={name}
        accept={accept}
        onChange={(event) => {
          const file = event.currentTarget.files?.[0];
          // the same file may be chosen again
          event.currentTarget.value = "";
          if (file) onFile(file);
        }}
      />
    </>
  );
}
