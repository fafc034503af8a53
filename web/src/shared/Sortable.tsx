import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";

type Props = {
  ids: string[];
  move: (from: number, to: number) => void;
  name: (id: string) => string;
  children: ReactNode;
};

// Sortable is a list whose rows are dragged by their handles, with the mouse,
// a finger, or the keyboard: space, arrows, space.
export function Sortable({ ids, move, name, children }: Props) {
  const { t } = useTranslation();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates, scrollBehavior: "auto" }),
  );
  const place = (id: unknown) => ids.indexOf(String(id)) + 1;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (!over || active.id === over.id) return;
        const from = ids.indexOf(String(active.id));
        const to = ids.indexOf(String(over.id));
        if (from >= 0 && to >= 0) move(from, to);
      }}
      accessibility={{
        screenReaderInstructions: {
          draggable: t("Press space to take it, the arrows to move it, space to let go, Escape to leave it."),
        },
        announcements: {
          onDragStart: ({ active }) => t("{{what}} is taken.", { what: name(String(active.id)) }),
          onDragOver: ({ active, over }) =>
            over
              ? t("{{what}} is at place {{n}}.", { what: name(String(active.id)), n: place(over.id) })
              : undefined,
          onDragEnd: ({ active, over }) =>
            t("{{what}} is at place {{n}}.", {
              what: name(String(active.id)),
              n: place(over?.id ?? active.id),
            }),
          onDragCancel: ({ active }) => t("{{what}} is where it was.", { what: name(String(active.id)) }),
        },
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

// SortableRow is a row of it, with its handle before it.
export function SortableRow({
  id,
  name,
  children,
  className,
}: {
  id: string;
  name: string;
  children: ReactNode;
  className?: string;
}) {
  const { t } = useTranslation();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({
      id,
    });
  return (
    <div
      ref={setNodeRef}
      className={`sortable${isDragging ? " dragging" : ""}${className ? ` ${className}` : ""}`}
      style={transform ? { transform: `translateY(${Math.round(transform.y)}px)`, transition } : undefined}
    >
      <button
        ref={setActivatorNodeRef}
        type="button"
        className="handle"
        {...attributes}
        {...listeners}
        aria-label={t("Move {{what}}", { what: name })}
      >
        <svg viewBox="0 0 8 14" aria-hidden="true">
          <path d="M1 3h6M1 7h6M1 11h6" stroke="currentColor" strokeWidth="1.4" />
        </svg>
      </button>
      <div className="sortable-body">{children}</div>
    </div>
  );
}
