/** One pass on the sheet: number, name, how much, on or off, and its sentence. */

import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Pass, Description, Token } from "../api/client";
import { copyPasses, keepLook, movePass } from "../bench/looks";
import { sayDone } from "../bench/done";
import { removePassCalled } from "../bench/removing";
import { change } from "../bench/saving";
import { choosePass, duplicate } from "../bench/passes";
import { select, NOTHING, passInHand, useBench } from "../bench/store";
import { setPass } from "../document/edit";
import { BeadSwitch } from "../icons/icons";
import { HoldButton } from "../ui/HoldButton";
import { Sentence } from "./Sentence";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";

type Props = {
  readonly pass: Pass;
  readonly number: number;
  readonly told: Description | undefined;
  readonly groupOf: (adjustment: string) => string;
  readonly valueOf: (pass: Pass, token: Token) => string | null;
};

export function PassItem({ pass, number, told, groupOf, valueOf }: Props) {
  const current = useBench((state) => passInHand(state) === pass.id);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: pass.id });
  const ground = isDragging ? "z-2 bg-lift" : current ? "bg-lift" : "";
  const toggle = (on: boolean) =>
    change(setPass(useBench.getState().sheet, pass.id, { on }), `${pass.name} ${on ? "on" : "off"}`);
  return (
    <article
      ref={setNodeRef}
      className={`group/pass relative grid grid-cols-[20px_1fr] gap-y-0.5 px-5 pt-2 pb-2.5 ${ground}`}
      data-pass={pass.id}
      data-off={pass.on ? undefined : ""}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      aria-label={`Pass ${number}, ${pass.name}`}
    >
      <span
        // 24 px to the finger, 20 to the eye
        className="-my-0.5 -ml-1 size-6 cursor-grab touch-none pl-1 font-book text-[13px] leading-6 font-medium text-ink-3"
        {...attributes}
        {...listeners}
        title="Drag to another place" aria-label={`Move pass ${number}`}>
        {number}
      </span>
      <div className="flex min-w-0 items-center gap-2 font-semibold group-data-off/pass:text-ink-3">
        <PassName pass={pass} current={current} />
        <HowMuch pass={pass} />
        <BeadSwitch on={pass.on} label={`${pass.name}, on or off`} onChange={toggle} />
      </div>
      <Sentence {...{ pass, told, groupOf, valueOf }} />
      {current && <Verbs pass={pass} />}
    </article>
  );
}

function PassName({ pass, current }: { readonly pass: Pass; readonly current: boolean }) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    const name = typed?.trim().slice(0, 60);
    setTyped(null);
    if (name && name !== pass.name) change(setPass(useBench.getState().sheet, pass.id, { name }), "rename a pass");
  };
  if (typed === null) {
    return (
      <button
        type="button"
        data-name
        className="wrap-anywhere"
        title={current ? "Press twice to rename" : undefined}
        onClick={() => choosePass(pass)}
        onDoubleClick={() => setTyped(pass.name)}
      >
        {pass.name}
      </button>
    );
  }
  return (
    <Field
      className="w-37.5 min-w-0"
      aria-label="Name of the pass"
      value={typed}
      ref={(field) => field?.focus()}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") commit();
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}

function HowMuch({ pass }: { readonly pass: Pass }) {
  const mixed = pass.mix === 1 ? "" : `, mix ${Math.round(pass.mix * 100)}\u00a0%`;
  const choice = useBench((state) => state.selection);
  const keep = choice.kind === "what" && choice.pass === pass.id ? choice : null;
  return (
    <button
      type="button"
      className="ml-auto font-medium whitespace-nowrap text-ink-2"
      title="Strength"
      onClick={() =>
        select({
          kind: "what",
          pass: pass.id,
          side: keep?.side ?? (pass.region ? "outside" : "inside"),
          group: keep?.group ?? "Light",
          adjustment: "strength",
        })
      }
    >
      {pass.on ? `${Math.round(pass.strength * 100)}\u00a0%${mixed}` : "off"}
    </button>
  );
}

/** Ways of using a pass elsewhere: copied, kept as a look, moved to the project. */
function Reuse({ pass }: { readonly pass: Pass }) {
  const client = useQueryClient();
  const [done, setDone] = useState("");
  const copy = async () => {
    if (await copyPasses([pass.id], pass.name)) setDone("copied");
  };
  const keep = async () => {
    if (!(await keepLook(pass.id, pass.name))) return;
    setDone("kept");
    void client.invalidateQueries({ queryKey: ["looks"] });
  };
  const move = async () => {
    select(NOTHING);
    if (!(await movePass("to-project", pass.id))) return;
    void client.invalidateQueries({ queryKey: ["project-sheet"] });
    sayDone(`“${pass.name}” runs on every shot now.`);
  };
  return (
    <>
      <Button title="To be pasted on other shots (under “start a pass”)" onClick={() => void copy()}>
        {done === "copied" ? "copied" : "copy"}
      </Button>
      <Button title="Kept under “start a pass”, for any shot" onClick={() => void keep()}>
        {done === "kept" ? "kept as a look" : "keep as a look"}
      </Button>
      <Button title="Runs on every shot of the project, after its own passes" onClick={() => void move()}>
        to all shots
      </Button>
    </>
  );
}

function Verbs({ pass }: { readonly pass: Pass }) {
  const exaggerated = useBench((state) => state.exaggerated);
  return (
    <div className="col-start-2 flex flex-wrap gap-x-3.5 gap-y-1.25 pt-1">
      <HoldButton
        on={exaggerated}
        title="Hold: four times as strong, its values untouched (X)"
        onHold={(held) => useBench.setState({ exaggerated: held })}
      >
        exaggerate
      </HoldButton>
      <Button title="A copy after this pass, on the same region" onClick={() => duplicate(pass.id)}>
        duplicate
      </Button>
      <Button title="Takes the pass away; its region stays on the shelf" onClick={() => removePassCalled(pass.id)}>
        delete
      </Button>
      <Reuse pass={pass} />
    </div>
  );
}
