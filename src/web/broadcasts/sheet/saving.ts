import { useCallback, useEffect, useRef, useState } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { ask, Refused } from '../../api/client';
import { letGoOf, type Held } from './held-drafts';

/**
 * How a draft gets to the server: one saving after the other, also where somebody leaves at once.
 *
 * @param takeIn somebody else has saved since: puts both together; true when that can be saved
 */
export function useSaving(
  id: number,
  held: Held,
  takeIn: () => Promise<boolean>,
): {
  saved: string;
  error: unknown;
  /** @param keepalive goes on when the page is gone. @throws Refused */
  save: (keepalive?: boolean) => Promise<void>;
} {
  const { keeper } = held;
  const [told, setTold] = useState<{ id: number; saved: string; error?: unknown }>({ id, saved: '' });
  const tell = useCallback((what: { saved: string; error?: unknown }) => setTold({ id, ...what }), [id]);
  const save = useCallback(
    async (keepalive = false) => {
      for (;;) {
        if (held.saving) await held.saving;
        const next = keeper.begin();
        if (!next) return;
        // what went wrong before stands until it goes well
        setTold((before) => ({ id, saved: 'saving', error: before.id === id ? before.error : undefined }));
        held.saving = ask(broadcasts.save, { params: { id }, body: { ...next.value, version: next.version } }, { keepalive })
          .then((answer) => {
            keeper.done(answer.version);
            tell({ saved: answer.updated_at });
          })
          .catch(async (refused: unknown) => {
            keeper.failed();
            let why = refused;
            try {
              if (isOutdated(refused) && (await takeIn())) return;
            } catch (unheard) {
              // what somebody else has saved could not be asked for: that is what is in the way now
              why = unheard;
            }
            tell({ saved: 'not saved', error: why });
            throw why;
          })
          .finally(() => (held.saving = undefined));
        await held.saving;
      }
    },
    [held, id, keeper, takeIn, tell],
  );

  // what failed for want of a server is tried again by itself: once the line is back, and every few seconds
  const wanting = told.id === id && told.saved === 'not saved' && !isAnswer(told.error) ? told : undefined;
  useEffect(() => {
    if (!wanting) return undefined;
    const again = () => void save().catch(() => undefined);
    const timer = setTimeout(again, AGAIN_MS);
    window.addEventListener('online', again);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('online', again);
    };
  }, [wanting, save]);

  const latest = useRef(save);
  useEffect(() => {
    latest.current = save;
  }, [save]);
  useEffect(() => {
    held.shown += 1;
    // what was typed last is not saved yet when somebody leaves at once: by a link, or by closing the page
    const leaving = () => {
      if (keeper.unsaved) latest.current(true).catch(() => undefined);
    };
    window.addEventListener('pagehide', leaving);
    return () => {
      window.removeEventListener('pagehide', leaving);
      held.shown -= 1;
      latest
        .current()
        .catch(() => undefined)
        .finally(() => letGoOf(id));
    };
  }, [held, id, keeper]);
  // what became of another broadcast says nothing of this one
  return told.id === id ? { saved: told.saved, error: told.error, save } : { saved: '', error: undefined, save };
}

/** How long until a saving that no server answered is tried again, ms. */
const AGAIN_MS = 4000;

/** The server has answered: asking again would be answered alike. */
const isAnswer = (error: unknown) => error instanceof Refused && error.status >= 400 && error.status < 500;

const isOutdated = (refused: unknown) =>
  refused instanceof Refused && refused.status === 409 && (refused.body.type?.endsWith(':changed') ?? false);
