/** The shots of a contact sheet, each to be dragged to another place. */

import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { rectSortingStrategy, SortableContext, sortableKeyboardCoordinates } from "@dnd-kit/sortable";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, asked, type ProjectDetail, type Shot } from "../api/client";
import { dropped } from "./order";
import { ShotCard } from "./ShotCard";

type Props = {
  readonly project: ProjectDetail;
  readonly shots: readonly Shot[];
  /** whether they stand in the project's own order, all of them */
  readonly movable: boolean;
  readonly chosen: ReadonlySet<string>;
  readonly onPick: (id: string) => void;
  readonly children: ReactNode;
};

/** A press that moves so far is a drag; a shorter one opens the shot, or shows its source. */
const LEAST_WAY = 8;

export function Shots({ project, shots, movable, chosen, onPick, children }: Props) {
  const client = useQueryClient();
  const key = ["project", project.id];
  const order = useMutation({
    mutationFn: (ids: string[]) =>
      asked(api.PUT("/api/projects/{project}/order", { params: { path: { project: project.id } }, body: { shots: ids } })),
    onMutate: (ids) => {
      // they stand where they were dropped before the server has answered
      const place = new Map(ids.map((id, index) => [id, index]));
      client.setQueryData<ProjectDetail>(key, (before) =>
        before && { ...before, shots: before.shots.toSorted((a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0)) },
      );
    },
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: LEAST_WAY } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) order.mutate(dropped(shots, active.id, over.id));
  };
  return (
    <>
      {order.error && <p role="alert">{order.error.message}</p>}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={shots.map(({ id }) => id)} strategy={rectSortingStrategy} disabled={!movable}>
          <div className="grid [grid-template-columns:repeat(auto-fill,_minmax(256px,_1fr))] gap-y-2.5 gap-x-7.5">
            {shots.map((shot) => (
              <ShotCard key={shot.id} {...{ project, shot, movable }} chosen={chosen.has(shot.id)} onPick={() => onPick(shot.id)} />
            ))}
            {children}
          </div>
        </SortableContext>
      </DndContext>
    </>
  );
}
