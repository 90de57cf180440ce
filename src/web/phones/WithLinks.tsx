import type { ReactNode } from 'react';
import { Way } from '../pieces/ways';

/** An address with its scheme, or one of this server's own short links, which texts have without; not the full stop after it. */
const ADDRESS = /(?:https?:\/\/[^\s<>"“”]+|[\w.-]+(?::\d{1,5})?\/[lou]\/[\w-]{6,})/g;
const ENDING = /[.,;:!?)\]]+$/;

/** A text as a phone shows it: its links are pressed. */
export function WithLinks({ text }: { text: string }): ReactNode {
  const shown: ReactNode[] = [];
  let from = 0;
  for (const { 0: found, index } of text.matchAll(ADDRESS)) {
    const address = found.replace(ENDING, '');
    shown.push(
      text.slice(from, index),
      <Way key={index} href={address.startsWith('http') ? address : `http://${address}`} target="_blank" rel="noopener">
        {address}
      </Way>,
    );
    from = index + address.length;
  }
  return [...shown, text.slice(from)];
}
