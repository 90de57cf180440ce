import { Button } from '@mui/material';
import { useState } from 'react';
import type { Answer } from '../../core/api/endpoint';
import { people, type PeopleQuery } from '../../core/api/people/people';
import { ask, useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { count, money } from '../pieces/format';
import { Bit, Row } from '../pieces/layout';
import { Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';

/** The paid line lookup: in North America a number does not tell whether it can be texted. Its cost is said before. */
export function LookUp({ filter }: { filter: PeopleQuery & Record<string, string> }) {
  const { workspace } = useDesk();
  const lookup = useAct(people.lookup);
  const [offer, setOffer] = useState<Answer<typeof people.lookupOffer>>();
  const [done, setDone] = useState<Answer<typeof people.lookup>>();
  const { work, busy, error } = useWork();
  if (done)
    return (
      <span role="status">
        {count(done.numbers)} looked up for {money(done.cost_micro, workspace.currency)}: {count(done.fixed)} fixed lines.
      </span>
    );
  if (!offer)
    return (
      <>
        <Bit soft>
          a number may be mobile or fixed:{' '}
          <Way disabled={busy} onClick={() => void work(async () => setOffer(await ask(people.lookupOffer, { query: filter })))}>
            look up lines…
          </Way>
        </Bit>
        <Trouble error={error} />
      </>
    );
  return (
    <Row as="span" gap={10} role="status">
      {offer.numbers === 0 ? (
        'Of every number here it is known what line it is.'
      ) : (
        <>
          {count(offer.numbers)} numbers may be mobile or fixed; the carrier tells for{' '}
          {money(offer.cost_micro, workspace.currency)}.
          <Button
            disabled={busy}
            onClick={() => void work(async () => setDone(await lookup({ body: { filter, agreed: offer.numbers } })))}
          >
            {busy ? 'Asking…' : `Look up ${count(offer.numbers)}`}
          </Button>
        </>
      )}
      <Way onClick={() => setOffer(undefined)}>leave it</Way>
      <Trouble error={error} />
    </Row>
  );
}
