/** Files on their way into a project, one after another, each with its progress and, when refused, the reason. */

import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Link } from "react-router";
import { Refusal } from "../api/client";
import { upload } from "../api/upload";
import { ProgressBar } from "../icons/icons";
import { Button, LOOKS } from "../ui/Button";
import { Line, LineEnd } from "../ui/Words";
import { JobList } from "./JobList";

type Upload = {
  readonly key: number;
  readonly name: string;
  readonly stage: "sending" | "reading";
  readonly share: number;
  readonly refusal: string;
  readonly shot: string | null;
  readonly stop: AbortController;
};

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
        const stop = new AbortController();
        setList((all) => [...all, { key, name: file.name, stage: "sending", share: 0, refusal: "", shot: null, stop }]);
        chain.current = chain.current.then(async () => {
          try {
            await upload(project, file, (stage, share) => set(key, { stage, share }), stop.signal);
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
  // what was on its way when the page was left, and is read still
  const rest = <JobList project={project} but={list.map(({ name }) => name)} />;
  if (list.length === 0) return rest;
  return (
    <>
    {rest}
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
              <LineEnd>
                {saidOf(each)}
                <Button aria-label={`Cancel adding ${each.name}`} onClick={() => each.stop.abort()}>
                  cancel
                </Button>
              </LineEnd>
            </Line>
            <ProgressBar share={each.share} label={`Adding ${each.name}`} />
          </div>
        ),
      )}
    </section>
    </>
  );
}

function saidOf({ stage, share }: Upload): string {
  if (stage === "reading") return share > 0 && share < 1 ? `reading, ${Math.round(share * 100)} %` : "reading…";
  return `${Math.round(share * 100)} %`;
}
