import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import type { ReactNode } from "react";

interface Props {
  ids: string[];
  /** Called when a row is taken in hand, and when it is let go. */
  lift?: (lifted: boolean) => void;
  /** A row was let go over another one. */
  drop: (id: string, over: string) => void;
  children: ReactNode;
}

/** Rows that are put in another order by dragging them, or with the keyboard. */
export function SortableRows({ ids, lift, drop, children }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const end = ({ active, over }: DragEndEvent) => {
    lift?.(false);
    if (over && active.id !== over.id) drop(String(active.id), String(over.id));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={() => lift?.(true)}
      onDragCancel={() => lift?.(false)}
      onDragEnd={end}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}
