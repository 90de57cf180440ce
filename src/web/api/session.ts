import { createContext, useContext } from 'react';
import type { Role } from '../../core/api/roles';

export interface SessionAnswer {
  account: { id: number; name: string; email: string; role: Role; own_number: string | null } | null;
  workspace: {
    name: string;
    zone: string;
    country: string;
    currency: string;
    languages: string[];
    quiet_from: string;
    quiet_to: string;
  } | null;
  demo: boolean;
  practice: boolean;
  now: string;
  balance_micro?: number;
  replies?: number;
  carrier?: { state: 'connected' | 'connecting'; since: number; why: string; trouble: string | null };
}

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
