import DragIndicator from '@mui/icons-material/DragIndicator';
import ViewColumn from '@mui/icons-material/ViewColumn';
import { Button, IconButton, Popover, Tooltip } from '@mui/material';
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
import { useState, type ReactNode } from 'react';
import { Tick } from './choices';
import type { Column } from './DataTable';
import { Column as Stacked, Row } from './layout';
import type { TableLayout } from './table-layout';

const wordsOf = <T,>(column: Column<T>) => column.said ?? String(column.heading);

/** Columns in the order somebody put them; those they have not seen yet come where they were declared. */
export function inOrder<T>(columns: readonly Column<T>[], order: readonly string[]): Column<T>[] {
  const place = (key: string) => {
    const at = order.indexOf(key);
    return at < 0 ? columns.findIndex((column) => column.key === key) + 0.5 : at;
  };
  return [...columns].sort((a, b) => place(a.key) - place(b.key));
}

/** Which columns a table has, and in which order: dragged, or moved with the keyboard. */
export function ColumnsMenu<T>({ columns, layout }: { columns: readonly Column<T>[]; layout: TableLayout }): ReactNode {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ordered = inOrder(columns, layout.order);
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const keys = ordered.map((column) => column.key);
    layout.arrange(arrayMove(keys, keys.indexOf(String(active.id)), keys.indexOf(String(over.id))));
  };
  return (
    <>
      <Tooltip title="Columns: which, and in which order">
        <IconButton aria-label="Columns" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
          <ViewColumn fontSize="small" />
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <Stacked role="dialog" aria-label="Columns" pad="10px 14px" gap={4} most={320}>
          <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={moved}>
            <SortableContext items={ordered.map((column) => column.key)} strategy={verticalListSortingStrategy}>
              {ordered.map((column) => (
                <Line key={column.key} id={column.key} words={wordsOf(column)}>
                  <Tick
                    checked={!layout.hidden.includes(column.key)}
                    disabled={column.stays}
                    onChange={(shown) => layout.show(column.key, shown)}
                  >
                    {wordsOf(column)}
                  </Tick>
                </Line>
              ))}
            </SortableContext>
          </DndContext>
          <Row above={6}>
            <Button onClick={layout.reset}>As they were</Button>
          </Row>
        </Stacked>
      </Popover>
    </>
  );
}

function Line({ id, words, children }: { id: string; words: string; children: ReactNode }): ReactNode {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id });
  return (
    <Row ref={setNodeRef} nowrap gap={4} style={{ transform: CSS.Transform.toString(transform), transition }}>
      <IconButton ref={setActivatorNodeRef} {...attributes} {...listeners} aria-label={`Move ${words}`}>
        <DragIndicator fontSize="small" />
      </IconButton>
      {children}
    </Row>
  );
}
