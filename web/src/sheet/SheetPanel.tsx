/** The sheet: the shot's name, its passes as sentences, and the shelf. */

import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { useEffect, useRef } from "react";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { clipSaid } from "../document/time";
import type { Catalogue, Pass, ProjectDetail, Shot, Token } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { movePass, treatmentOf } from "../document/edit";
import { show } from "../document/numbers";
import { adjustmentOf, isNumber } from "../tray/values";
import { FirstBegins, SpareBegins } from "./Beginnings";
import { PassItem } from "./PassItem";
import { ProjectPasses } from "./ProjectPasses";
import { Shelf } from "./Shelf";
import { useKeyOf } from "../bench/keymap";
import { Kbd } from "../ui/Kbd";
import { Say } from "../ui/Words";

const SPACES: Readonly<Record<string, string>> = {
  srgb: "",
  p3: ", Display P3",
  bt2020: ", BT.2020",
  "bt2020-high": ", BT.2020, high range",
  oprgb: ", opRGB",
  romm: ", ROMM RGB",
};

type Props = { readonly project: ProjectDetail; readonly shot: Shot; readonly catalogue: Catalogue };

export function SheetPanel({ project, shot, catalogue }: Props) {
  const reading = useBench((state) => state.saved === null);
  const letter = useKeyOf("start");
  const starting = useBench((state) => state.starting);
  const panel = useRef<HTMLElement>(null);
  // whoever works by keys begins at the sheet of the shot that was opened
  useEffect(() => {
    if (document.activeElement === document.body || document.activeElement === null) panel.current?.focus({ preventScroll: true });
  }, []);
  return (
    <aside ref={panel} tabIndex={-1} className="relative flex min-h-0 flex-col bg-sheet pt-4 outline-none" aria-label="The sheet">
      <h1 className="px-5 font-book text-title font-medium tracking-[-0.005em] wrap-anywhere">{shot.name}</h1>
      <p className="font-face text-label font-medium text-ink-3 py-0 px-5 mt-0.5 mx-0 mb-2">
        {shot.clip ? "Clip" : "Still"}, {shot.width} × {shot.height} px{SPACES[shot.space] ?? ""}{shot.clip && clipSaid(shot.clip)}
        {shot.note && `. ${shot.note}`}
      </p>
      {reading ? <Say look="sheet">Reading the sheet…</Say> : <Passes {...{ catalogue, shot }} />}
      {!reading && <SpareBegins catalogue={catalogue} />}
      <button
        type="button"
        className="mt-1 flex h-8 w-full flex-none items-center gap-2 px-5 text-ink-2 hover:bg-lift hover:text-ink aria-expanded:bg-lift aria-expanded:text-ink"
        aria-expanded={starting}
        disabled={reading}
        onClick={() => useBench.setState({ starting: !starting })}
      >
        + start a pass…{letter && <Kbd className="ml-auto">{letter}</Kbd>}
      </button>
      <ProjectPasses {...{ project, shot, catalogue }} />
      <div className="grow" />
      <Shelf shot={shot} />
    </aside>
  );
}

function Passes({ catalogue, shot }: Pick<Props, "catalogue" | "shot">) {
  const passes = useBench((state) => state.sheet.passes);
  const told = useBench((state) => state.told);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const groupOf = (id: string) => adjustmentOf(catalogue, id)?.group ?? "Light";
  const valueOf = (pass: Pass, { side, adjustment: id }: Token) => {
    const adjustment = adjustmentOf(catalogue, id);
    const main = adjustment?.switch === "first" ? adjustment.parameters[0] : undefined;
    if (!main || !isNumber(main)) return null;
    const { digits, unit } = show(Number(treatmentOf(pass, side ?? "inside")[id]?.[main.id] ?? main.neutral), main, shot);
    return `${digits}\u00a0${unit}`.trim();
  };
  const place = (id: unknown) => passes.findIndex((pass) => pass.id === id);
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) change(movePass(useBench.getState().sheet, place(active.id), place(over.id)), "reorder");
  };
  if (passes.length === 0) {
    return (
      <>
        <Say look="sheet">Nothing is done to this shot yet.</Say>
        <FirstBegins catalogue={catalogue} />
      </>
    );
  }
  return (
    <div className="min-h-0 flex-initial overflow-y-auto">
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={passes.map((pass) => pass.id)} strategy={verticalListSortingStrategy}>
          {passes.map((pass, index) => (
            <PassItem
              key={pass.id}
              pass={pass}
              number={index + 1}
              told={told.find((each) => each.id === pass.id)}
              {...{ groupOf, valueOf }}
            />
          ))}
        </SortableContext>
      </DndContext>
    </div>
  );
}
