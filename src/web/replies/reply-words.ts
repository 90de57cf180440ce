import type { Reply } from '../../core/api/replies';
import { showPhone } from '../pieces/phone';

/** What a reply was taken for, where that is not simply a reply. */
export const KIND: Record<string, string> = {
  maybe_stop: 'may mean stop: nothing planned goes to them until you decide',
  help: 'asked for help and got it',
  stop: 'opted out',
  start: 'came back',
};

/** Who writes: by name, or else by number. */
export function writerOf(reply: Reply): string {
  return `${reply.given_name ?? ''} ${reply.family_name ?? ''}`.trim() || showPhone(reply.number);
}
