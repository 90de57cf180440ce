import ViewColumn from '@mui/icons-material/ViewColumn';
import { Button, IconButton, Popover, Tooltip } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { Tick } from '../form/choices';
import { Column as Stacked, Row } from '../layout';
import { Ordered, useOrdered } from './Ordered';
import { inOrder, type Column } from './table-column';
import type { TableLayout } from './table-layout';

const wordsOf = <T,>(column: Column<T>) => column.said ?? String(column.heading);

/** Which columns a table has, and in which order: dragged, or moved with the keyboard. */
export function ColumnsMenu<T>({ columns, layout }: { columns: readonly Column<T>[]; layout: TableLayout }): ReactNode {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const ordered = inOrder(columns, layout.order);
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
          <Ordered ids={ordered.map((column) => column.key)} arrange={layout.arrange}>
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
          </Ordered>
          <Row above={6}>
            <Button onClick={layout.reset}>As they were</Button>
          </Row>
        </Stacked>
      </Popover>
    </>
  );
}

function Line({ id, words, children }: { id: string; words: string; children: ReactNode }): ReactNode {
  const { placed, grip } = useOrdered(id, words);
  return (
    <Row {...placed} nowrap gap={4}>
      {grip}
      {children}
    </Row>
  );
}
