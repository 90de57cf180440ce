import { createContext, useContext } from 'react';
import type { SessionAnswer } from '../../core/api/session';

/** Who is signed in and where, with the product's clock (the demo's runs ahead of the machine's). */
export interface Desk {
  account: NonNullable<SessionAnswer['account']>;
  workspace: NonNullable<SessionAnswer['workspace']>;
  session: SessionAnswer;
  /** ms to add to Date.now(). */
  offset: number;
}

export const DeskContext = createContext<Desk | undefined>(undefined);

export function useDesk(): Desk {
  const desk = useContext(DeskContext);
  if (!desk) throw new Error('This view is shown only to someone signed in.');
  return desk;
}
