import { Popover } from '@mui/material';
import type { ComponentProps, ReactNode } from 'react';
import { Column } from './layout';

/** A place on the screen, px. */
export interface At {
  top: number;
  left: number;
}

/** Right under something, also when that has gone meanwhile. */
export function under(element: HTMLElement): At {
  const { bottom, left } = element.getBoundingClientRect();
  return { top: bottom, left };
}

/** A small window beneath what opened it, or at a place where that may go while it stands: shut by Escape and by a press elsewhere. */
export function SmallWindow({
  label,
  at,
  close,
  children,
  ...column
}: {
  label: string;
  at: HTMLElement | At;
  close: () => void;
  children: ReactNode;
} & Pick<ComponentProps<typeof Column>, 'width' | 'gap' | 'pad'>): ReactNode {
  return (
    <Popover
      open
      {...(at instanceof HTMLElement
        ? { anchorEl: at, anchorOrigin: { vertical: 'bottom', horizontal: 'left' } as const }
        : { anchorReference: 'anchorPosition' as const, anchorPosition: at })}
      onClose={close}
      slotProps={{ paper: { 'aria-label': label, role: 'dialog' } }}
    >
      <Column pad="12px 12px 8px" gap={6} most="90vw" {...column}>
        {children}
      </Column>
    </Popover>
  );
}
