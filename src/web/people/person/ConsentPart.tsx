import { Button } from '@mui/material';
import { useState } from 'react';
import type { BodyOf } from '../../../core/api/endpoint';
import { people, type ConsentEvent } from '../../../core/api/people/people';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { Field } from '../../pieces/form/Field';
import { clockTime, fieldText } from '../../pieces/format';
import { wallClock } from '../../../core/zones';
import { showPhone } from '../../pieces/phone';
import { Bit, Column, Facts, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { Choose } from '../../pieces/form/choices';

const PURPOSE = { service: 'notices', marketing: 'marketing' } as Record<string, string>;

/** The consent record: what counts now, everything said before, and writing down something new. */
export function ConsentPart({
  id,
  number,
  events,
  may,
  optedOut,
  zone,
  act,
}: {
  id: number;
  number: string | null;
  events: readonly ConsentEvent[];
  may: boolean;
  optedOut: boolean;
  zone: string;
  act: (work: () => Promise<unknown>) => Promise<void>;
}) {
  const { workspace } = useDesk();
  const [writing, setWriting] = useState(false);
  const [all, setAll] = useState(false);
  const [said, setSaid] = useState<BodyOf<typeof people.consent>>({
    purpose: 'marketing',
    act: 'granted',
    how: 'in person',
    evidence: '',
    wording: '',
  });
  const optOut = useAct(people.optOut);
  const line = (event: ConsentEvent) =>
    `${event.act}, ${event.how}${event.evidence ? ` (${event.evidence})` : ''}, ${fieldText(wallClock(Date.parse(event.at), zone).date)}, ${clockTime(event.at, zone)}${event.by ? `, ${event.by}` : ''}`;
  const latest = (purpose: string) => events.find((event) => event.purpose === purpose && event.number === number);
  return (
    <>
      <Words as="h2" line above={9}>
        Consent
      </Words>
      <Facts small>
        {(['service', 'marketing'] as const).map((purpose) => {
          const event = latest(purpose);
          const nothing = !event || event.act === 'cleared';
          return (
            <FactPair
              key={purpose}
              name={PURPOSE[purpose]}
              value={
                nothing
                  ? purpose === 'service' && workspace.notices === 'unless_withdrawn'
                    ? 'allowed unless withdrawn'
                    : 'not granted'
                  : line(event)
              }
              brick={event?.act === 'withdrawn'}
            />
          );
        })}
      </Facts>
      {all && (
        <Words as="ul" small>
          {events.map((event, i) => (
            <li key={i}>
              {PURPOSE[event.purpose]} {line(event)}
              {event.number !== number ? `, for ${showPhone(event.number)}` : ''}
              {event.wording ? `: “${event.wording}”` : ''}
            </li>
          ))}
        </Words>
      )}
      <Row as="p" small gap={12}>
        {events.length > 0 && (
          <Way aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'less' : `the whole record, ${events.length}`}
          </Way>
        )}
        {may && number !== null && (
          <Way aria-expanded={writing} onClick={() => setWriting(!writing)}>
            write down what they said
          </Way>
        )}
        {may && number !== null && !optedOut && (
          <Way brick onClick={() => void act(() => optOut({ params: { id }, body: { words: '' } }))}>
            they said stop
          </Way>
        )}
      </Row>
      {writing && <Writing act={act} id={id} said={said} setWriting={setWriting} setSaid={setSaid} />}
    </>
  );
}

/** What they said, written down. */
function Writing({
  act,
  id,
  said,
  setWriting,
  setSaid,
}: {
  act: (work: () => Promise<unknown>) => Promise<void>;
  id: number;
  said: BodyOf<typeof people.consent>;
  setWriting: (writing: boolean) => void;
  setSaid: (said: BodyOf<typeof people.consent>) => void;
}) {
  const write = useAct(people.consent);
  return (
    <Column
      as="form"
      small
      gap={6}
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault();
        void act(() => write({ params: { id }, body: said }).then(() => setWriting(false)));
      }}
    >
      <span>
        <Choose
          label="Purpose"
          value={said.purpose}
          options={[
            ['marketing', 'marketing'],
            ['service', 'service notices'],
          ]}
          onChange={(purpose) => setSaid({ ...said, purpose })}
        />{' '}
        <Choose
          label="What they said"
          value={said.act}
          options={[
            ['granted', 'granted'],
            ['withdrawn', 'withdrawn'],
          ]}
          onChange={(next) => setSaid({ ...said, act: next })}
        />
      </span>
      <Field
        label="How"
        placeholder="how: in person, paper form…"
        value={said.how}
        onChange={(how) => setSaid({ ...said, how })}
      />
      <Field
        label="Evidence"
        placeholder="where that can be seen"
        value={said.evidence}
        onChange={(evidence) => setSaid({ ...said, evidence })}
      />
      <Field
        label="Wording"
        placeholder="the wording they agreed to"
        value={said.wording}
        onChange={(wording) => setSaid({ ...said, wording })}
      />
      <span>
        <Button type="submit" disabled={said.how.trim() === ''}>
          Write it down
        </Button>
      </span>
    </Column>
  );
}

function FactPair({ name, value, brick }: { name: string; value: string; brick: boolean }) {
  return (
    <>
      <dt>{name}</dt>
      <Bit as="dd" brick={brick}>
        {value}
      </Bit>
    </>
  );
}
