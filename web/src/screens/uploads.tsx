/** Files on their way into a project, one after another, each with its progress and, when refused, the reason. */

import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Link } from "react-router";
import { Refusal } from "../api/client";
import { ProgressBar } from "../icons/icons";
import { Button, LOOKS } from "../ui/Button";
import { Line, LineEnd } from "../ui/Words";

type Upload = {
  readonly key: number;
  readonly name: string;
  readonly share: number;
  readonly refusal: string;
  readonly shot: string | null;
};

/** Sends one file; XMLHttpRequest tells how far it is, which fetch does not. */
function send(project: string, file: File, onShare: (share: number) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const form = new FormData();
    form.append("file", file);
    request.open("POST", `/api/projects/${project}/shots`);
    request.upload.addEventListener("progress", (event) => onShare(event.total ? event.loaded / event.total : 0));
    request.addEventListener("error", () => reject(new Refusal({})));
    request.addEventListener("load", () => {
      if (request.status === 200) resolve();
      else reject(refusalOf(request));
    });
    request.send(form);
  });
}

function refusalOf(request: XMLHttpRequest): Refusal {
  try {
    return new Refusal(JSON.parse(request.responseText));
  } catch {
    return new Refusal({ title: `The server answered with ${request.status}.`, status: request.status });
  }
}

export function useUploads(project: string) {
  const [list, setList] = useState<readonly Upload[]>([]);
  const client = useQueryClient();
  const next = useRef(0);
  const chain = useRef<Promise<void>>(Promise.resolve());
  const set = useCallback((key: number, fields: Partial<Upload>) => {
    setList((all) => all.map((each) => (each.key === key ? { ...each, ...fields } : each)));
  }, []);
  const dismiss = useCallback((key: number) => setList((all) => all.filter((each) => each.key !== key)), []);

  const add = useCallback(
    (files: readonly File[]) => {
      for (const file of files) {
        const key = next.current++;
        setList((all) => [...all, { key, name: file.name, share: 0, refusal: "", shot: null }]);
        chain.current = chain.current.then(async () => {
          try {
            await send(project, file, (share) => set(key, { share }));
            await client.invalidateQueries({ queryKey: ["project", project] });
            dismiss(key);
          } catch (error) {
            const refusal = error instanceof Refusal ? error : new Refusal({});
            set(key, { refusal: refusal.message, shot: refusal.shot });
          }
        });
      }
    },
    [project, client, set, dismiss],
  );
  return { list, add, dismiss };
}

type Props = {
  readonly list: readonly Upload[];
  readonly dismiss: (key: number) => void;
  readonly project: string;
};

export function Uploads({ list, dismiss, project }: Props) {
  if (list.length === 0) return null;
  return (
    <section className="mb-2.5 grid gap-1" aria-label="Files on their way" aria-live="polite">
      {list.map((each) =>
        each.refusal ? (
          <p key={each.key} role="alert" className="flex items-baseline gap-3 font-book text-small font-normal">
            <b>{each.name}</b> {each.refusal}{" "}
            {each.shot && (
              <Link className={LOOKS.word} to={`/projects/${project}/shots/${each.shot}`}>
                open it
              </Link>
            )}
            <Button onClick={() => dismiss(each.key)}>
              dismiss
            </Button>
          </p>
        ) : (
          <div key={each.key} className="max-w-105">
            <Line>
              {each.name}
              <LineEnd>{each.share < 1 ? `${Math.round(each.share * 100)} %` : "reading…"}</LineEnd>
            </Line>
            <ProgressBar share={each.share} label={`Adding ${each.name}`} />
          </div>
        ),
      )}
    </section>
  );
}
