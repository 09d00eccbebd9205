/** The .cube file of a table: its name, and the word that reads another. */

import { useState } from "react";
import { posted } from "../api/client";
import { FileWord } from "./FileWord";

type Props = { readonly name: string; readonly onRead: (values: { file: string; name: string }) => void };
type Read = { readonly file: string; readonly name: string; readonly note: string };

export function TableFile({ name, onRead }: Props) {
  const [note, setNote] = useState("");
  const read = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    try {
      const made = (await (await posted("/api/tables", form)).json()) as Read;
      setNote(made.note);
      onRead({ file: made.file, name: made.name });
    } catch (error) {
      setNote(error instanceof Error ? error.message : "");
    }
  };
  return (
    <>
      <span>{name ? `“${name}”` : "No table yet."}</span>
      <FileWord name={name ? "another .cube…" : "read a .cube…"} accept=".cube" onFile={(file) => void read(file)} />
      <span role="status">
        {note}
      </span>
    </>
  );
}
