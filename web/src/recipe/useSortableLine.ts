import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";

/** What makes a line of the recipe one that is dragged: for the line, and for what it is held by. */
export function useSortableLine(id: string, disabled = false) {
  const sortable = useSortable({ id, disabled });
  return {
    line: {
      ref: sortable.setNodeRef,
      style: {
        transform: CSS.Translate.toString(sortable.transform),
        transition: sortable.transition,
        zIndex: sortable.isDragging ? 5 : undefined,
      },
    },
    lifted: sortable.isDragging,
    hold: {
      ...sortable.attributes,
      ...sortable.listeners,
      role: "button",
      // It opens and closes the line even where it cannot be dragged.
      "aria-disabled": undefined,
      tabIndex: 0,
    },
  };
}
