import type { SetupAnswer } from '../../core/api/setup';
import { Facts, Words } from '../pieces/layout';
import { State } from '../pieces/chart/Ring';
import { Way } from '../pieces/ways';
import { CarrierWays } from './CarrierWays';

/** Who takes our texts, and whether they do. */
export default function CarrierPart({ data: { carrier, workspace }, manage }: { data: SetupAnswer; manage: boolean }) {
  return (
    <>
      <h2>Carrier</h2>
      <Facts pad="8px 0">
        <dt>State</dt>
        <dd>
          <State
            state={carrier.state === 'connected' ? 'yes' : 'uncertain'}
            words={carrier.state === 'connected' ? 'connected' : `connecting: ${carrier.why}`}
          />
        </dd>
        <dt>Who</dt>
        <dd>{carrier.practice ? 'the practice carrier; nothing leaves' : `${carrier.host}, port ${carrier.port}`}</dd>
        <dt>Language</dt>
        <dd>SMPP 3.4</dd>
        {carrier.trouble && (
          <>
            <dt>Trouble</dt>
            <dd>{carrier.trouble}; texts wait and are tried again by themselves</dd>
          </>
        )}
      </Facts>
      {carrier.practice && (
        <Words as="p" soft>
          While no carrier is configured the practice carrier stands in: its phones are simulated, its prices and receipts are as
          a real one’s. What it shows is on <Way to="/phones">the practice phones</Way>.
        </Words>
      )}
      <CarrierWays ways={carrier.ways} currency={workspace.currency} manage={manage} />
    </>
  );
}
