import DragIndicator from '@mui/icons-material/DragIndicator';
import { IconButton } from '@mui/material';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { CSSProperties, ReactNode } from 'react';

/** Things under one another that are dragged into their order, or moved with the keyboard. */
export function Ordered({
  ids,
  arrange,
  children,
}: {
  ids: readonly string[];
  arrange: (ids: string[]) => void;
  children: ReactNode;
}): ReactNode {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    arrange(arrayMove([...ids], ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={moved}>
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** One of them: what its element is given, and the grip by which it is moved. */
export function useOrdered(
  id: string,
  words: string,
): { placed: { ref: (element: HTMLElement | null) => void; style: CSSProperties }; grip: ReactNode } {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id });
  return {
    placed: { ref: setNodeRef, style: { transform: CSS.Transform.toString(transform), transition } },
    grip: (
      <IconButton ref={setActivatorNodeRef} {...attributes} {...listeners} aria-label={`Move ${words}`}>
        <DragIndicator fontSize="small" />
      </IconButton>
    ),
  };
}
