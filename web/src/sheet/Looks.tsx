/** Looks under "start a pass": what was copied, and what was kept; a press lays it on this shot. */

import { useQueryClient } from "@tanstack/react-query";
import { api, asked, type Look, posted } from "../api/client";
import { useLooks } from "../api/queries";
import { save } from "../api/save";
import { beginCopied, beginLook } from "../bench/begin";
import { copied } from "../bench/looks";
import { useBench } from "../bench/store";
import { FileWord } from "../tray/FileWord";
import { Button } from "../ui/Button";

const close = () => useBench.setState({ starting: false });
const tell = (error: unknown) => useBench.setState({ problem: error instanceof Error ? error.message : "" });

export function Looks({ query }: { readonly query: string }) {
  const client = useQueryClient();
  const { data } = useLooks();
  const clip = copied();
  const words = query.toLowerCase().split(/\s+/);
  const looks = (data ?? []).filter((look) => words.every((word) => `${look.name} ${look.says}`.toLowerCase().includes(word)));
  const again = () => client.invalidateQueries({ queryKey: ["looks"] });
  const read = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    try {
      await posted("/api/looks/file", form);
      await again();
    } catch (error) {
      tell(error);
    }
  };
  if (query && looks.length === 0) return null;
  return (
    <>
      <h2>Looks</h2>
      <div className="flex flex-wrap items-baseline gap-x-3.5 gap-y-1">
        {clip && !query && (
          <button
            type="button"
            className="what"
            onClick={() => {
              close();
              void beginCopied(clip);
            }}
          >
            Paste “{clip.name}”
          </button>
        )}
        {looks.map((look) => (
          <LookItem key={look.id} look={look} onGone={again} />
        ))}
        {!query && <FileWord name="read a look from a file…" accept=".json" onFile={(file) => void read(file)} />}
      </div>
    </>
  );
}

function LookItem({ look, onGone }: { readonly look: Look; readonly onGone: () => void }) {
  const path = { params: { path: { look: look.id } } };
  const forget = async () => {
    try {
      await asked(api.DELETE("/api/looks/{look}", path));
      onGone();
    } catch (error) {
      tell(error);
    }
  };
  const write = async () => {
    const answer = await fetch(`/api/looks/${look.id}/file`);
    if (answer.ok) save(await answer.blob(), `${look.name}.json`);
  };
  return (
    <article aria-label={`Look ${look.name}`}>
      <button
        type="button"
        className="what"
        onClick={() => {
          close();
          void beginLook(look.id);
        }}
      >
        {look.name}
      </button>
      <small className="flex-[1_1_280px] text-[12px] leading-4 font-medium text-ink-2">{look.says}</small>
      <Button title="Writes the look to a file that another Calado can read" onClick={() => void write()}>
        to a file
      </Button>
      <Button title="Takes the look from the list; passes laid from it stay" onClick={() => void forget()}>
        forget
      </Button>
    </article>
  );
}
