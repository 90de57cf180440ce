import { Button } from '@mui/material';
import { useState } from 'react';
import { get, send } from '../api/client';
import { useDesk } from '../api/session';
import { count, money } from '../pieces/format';
import { Trouble } from '../pieces/small';

interface Offer {
  numbers: number;
  cost_micro: number;
}

/** The paid line lookup: in North America a number does not tell whether it can be texted. Its cost is said before. */
export function LookUp({ filter, address }: { filter: Record<string, string>; address: string }) {
  const { workspace } = useDesk();
  const [offer, setOffer] = useState<Offer>();
  const [done, setDone] = useState<Offer & { fixed: number }>();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>();
  const attempt = async (work: () => Promise<void>) => {
    setBusy(true);
    setError(undefined);
    try {
      await work();
    } catch (refused) {
      setError(refused);
    } finally {
      setBusy(false);
    }
  };
  if (done)
    return (
      <span role="status">
        {count(done.numbers)} looked up for {money(done.cost_micro, workspace.currency)}: {count(done.fixed)} fixed lines.
      </span>
    );
  if (!offer)
    return (
      <>
        <button
          type="button"
          className="way"
          disabled={busy}
          onClick={() => void attempt(async () => setOffer(await get<Offer>(`/api/people/lookup?${address}`)))}
        >
          look up lines…
        </button>
        <Trouble error={error} />
      </>
    );
  return (
    <span className="row" role="status" style={{ gap: 10 }}>
      {offer.numbers === 0 ? (
        'Of every number here it is known what line it is.'
      ) : (
        <>
          {count(offer.numbers)} numbers may be mobile or fixed; the carrier tells for{' '}
          {money(offer.cost_micro, workspace.currency)}.
          <Button
            disabled={busy}
            onClick={() =>
              void attempt(async () =>
                setDone(await send<Offer & { fixed: number }>('POST', '/api/people/lookup', { filter, agreed: offer.numbers })),
              )
            }
          >
            {busy ? 'Asking…' : `Look up ${count(offer.numbers)}`}
          </Button>
        </>
      )}
      <button type="button" className="way" onClick={() => setOffer(undefined)}>
        leave it
      </button>
      <Trouble error={error} />
    </span>
  );
}
