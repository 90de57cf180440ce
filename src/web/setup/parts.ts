/** The parts of Setup, each a form that saves by itself. */
export const PARTS = [
  { key: 'workspace', name: 'Workspace' },
  { key: 'wordings', name: 'Wordings' },
  { key: 'senders', name: 'Senders' },
  { key: 'prices', name: 'Prices' },
  { key: 'balance', name: 'Balance' },
  { key: 'carrier', name: 'Carrier' },
  { key: 'desk', name: 'The desk' },
  { key: 'mail', name: 'Mail' },
  { key: 'fields', name: 'Fields' },
  { key: 'team', name: 'Team' },
  { key: 'account', name: 'Your account' },
  { key: 'work', name: 'By itself' },
  { key: 'record', name: 'Record' },
  { key: 'api', name: 'API' },
] as const;
export type Part = (typeof PARTS)[number]['key'];

/** Where something that is missing for a first text is put right. */
export function wayTo(part: string): string {
  return part === 'people' ? '/people/bring-in' : part === 'start' ? '/start' : `/setup/${part}`;
}
