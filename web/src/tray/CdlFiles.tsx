/** Colour decision lists in and out: .cc, .ccc and .cdl. */

import { useState } from "react";
import { posted } from "../api/client";
import { save } from "../api/save";
import type { Value } from "../document/edit";
import { FileWord } from "./FileWord";
import { Button } from "../ui/Button";
import { Select } from "../ui/Field";

type Props = { readonly values: Readonly<Record<string, Value>>; readonly onRead: (values: Record<string, number>) => void };
type Correction = { readonly name: string; readonly values: Record<string, number> };

const FORMS = ["cc", "ccc", "cdl"] as const;

export function CdlFiles({ values, onRead }: Props) {
  const [note, setNote] = useState("");
  const [found, setFound] = useState<readonly Correction[]>([]);
  const told = (error: unknown) => setNote(error instanceof Error ? error.message : "");
  const read = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    try {
      const made = (await (await posted("/api/cdl", form)).json()) as Correction[];
      setNote("");
      setFound(made.length > 1 ? made : []);
      if (made[0]) onRead(made[0].values);
    } catch (error) {
      told(error);
    }
  };
  const write = async (form: string) => {
    try {
      const answer = await posted("/api/cdl/write", { name: "correction", values, form });
      save(await answer.blob(), `correction.${form}`);
    } catch (error) {
      told(error);
    }
  };
  return (
    <>
      <FileWord name="read a list…" accept=".cc,.ccc,.cdl" onFile={(file) => void read(file)} />
      <span className="flex gap-2 items-center flex-wrap">
        write
        {FORMS.map((form) => (
          <Button key={form} onClick={() => void write(form)}>
            .{form}
          </Button>
        ))}
      </span>
      {found.length > 1 && (
        <Select
          aria-label="Correction of the list"
          onChange={(event) => {
            const chosen = found[Number(event.currentTarget.value)];
            if (chosen) onRead(chosen.values);
          }}
        >
          {found.map((each, index) => (
            <option key={each.name} value={index}>
              {each.name}
            </option>
          ))}
        </Select>
      )}
      {note && (
        <span role="alert">
          {note}
        </span>
      )}
    </>
  );
}
