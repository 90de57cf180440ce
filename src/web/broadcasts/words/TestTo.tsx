import { Button, Popover } from '@mui/material';
import { useState } from 'react';
import { broadcasts, type TestedAnswer } from '../../../core/api/sending/broadcasts';
import { testers, type Tester } from '../../../core/api/sending/testers';
import type { Draft } from '../../../core/plan/draft/draft';
import { Refused, useAct, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { Tick } from '../../pieces/form/choices';
import { Bit, Column, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Trouble } from '../../pieces/small';
import { Value, Way } from '../../pieces/ways';
import { OwnNumber } from '../../setup/for-others';
import { SinceTest } from '../last-look/SinceTest';

/** Texts the proof that is shown to one's own number, to named testers, or to both; and says what has changed since the last time. */
export function TestTo({
  id,
  draft,
  which,
  index,
  tested: before,
  now,
}: {
  id: number;
  draft: Draft;
  which: string;
  index: number;
  tested: TestedAnswer | null;
  now: number;
}) {
  const { account } = useDesk();
  const all = useGet(testers.list, {}, { keep: true }).data?.testers ?? [];
  const [me, setMe] = useState(true);
  const [others, setOthers] = useState<readonly number[]>([]);
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [said, setSaid] = useState('');
  const [asking, setAsking] = useState(false);
  const [latest, setLatest] = useState<TestedAnswer>();
  const send = useAct(broadcasts.test);
  const { work, busy, error } = useWork();
  const chosen = all.filter((each) => others.includes(each.id));
  const names = [...(me ? ['me'] : []), ...chosen.map((each) => each.name)];
  const test = () =>
    void work(async () => {
      setSaid('');
      if (me && !account.own_number) {
        setAsking(true);
        return;
      }
      try {
        const body = { draft, which, index, me, testers: chosen.map((each) => each.id) };
        const { numbers, later, tested } = await send({ params: { id }, body });
        setLatest(tested);
        const to = numbers.length === 1 ? showPhone(numbers[0]) : `${numbers.length} numbers`;
        const names = later.map(({ name }) => name).join(', ');
        setSaid(`On its way to ${to}.${names === '' ? '' : ` Not to ${names}: it is no hour to text there.`}`);
      } catch (refused) {
        if (!(refused instanceof Refused) || refused.body.place !== 'own_number') throw refused;
        setAsking(true);
      }
    });
  return (
    <Column small gap={4}>
      <div>
        <Button disabled={busy || names.length === 0} onClick={test}>
          {names.length === 0
            ? 'Choose to whom'
            : names.length > 1
              ? `Text this to ${names.length} numbers`
              : me
                ? 'Text this to me'
                : 'Text this to one number'}
        </Button>
      </div>
      {all.length > 0 && (
        <div>
          <Value soft aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
            to whom
          </Value>
        </div>
      )}
      <Popover
        open={anchor !== undefined}
        anchorEl={anchor}
        onClose={() => setAnchor(undefined)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'To whom' } }}
      >
        <WhoTicks
          all={all}
          me={me}
          setMe={setMe}
          others={others}
          setOthers={setOthers}
          own={account.own_number ? showPhone(account.own_number) : 'your own number'}
        />
      </Popover>
      {!said && (chosen.length > 0 || account.own_number) && (
        <Bit soft>
          {[...(me && account.own_number ? [showPhone(account.own_number)] : []), ...chosen.map((each) => each.name)].join(', ')}
        </Bit>
      )}
      <span role="status">{said}</span>
      {(latest ?? before) !== null && (
        <Bit soft>
          <SinceTest tested={latest ?? before} draft={draft} now={now} />
        </Bit>
      )}
      {asking && (
        <Words above={10}>
          <OwnNumber
            done={() => {
              setAsking(false);
              test();
            }}
          />
        </Words>
      )}
      <Trouble error={error} />
    </Column>
  );
}

function WhoTicks({
  all,
  me,
  setMe,
  others,
  setOthers,
  own,
}: {
  all: readonly Tester[];
  me: boolean;
  setMe: (me: boolean) => void;
  others: readonly number[];
  setOthers: (others: readonly number[]) => void;
  own: string;
}) {
  return (
    <Column pad="6px 16px" gap={0}>
      <Tick checked={me} onChange={setMe}>
        me, {own}
      </Tick>
      {all.map((each) => (
        <Tick
          key={each.id}
          checked={others.includes(each.id)}
          onChange={(ticked) => setOthers(ticked ? [...others, each.id] : others.filter((id) => id !== each.id))}
        >
          {each.name}, {showPhone(each.number)}
        </Tick>
      ))}
      <Way small to="/setup/team">
        numbers of the desk
      </Way>
    </Column>
  );
}
