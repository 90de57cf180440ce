import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { Bar } from 'react-chartjs-2';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { Answer } from '../../../core/api/endpoint';
import type { Draft } from '../../../core/plan/draft/draft';
import { deskPace } from '../../../core/plan/picture/rehearsal';
import { ask } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { Figure, useChartLook } from '../../pieces/chart/chart';
import { TypedValue } from '../../pieces/form/choices';
import { clockTime, count, dayOf, people, when } from '../../pieces/format';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';

type Played = Answer<typeof broadcasts.rehearse>;
/** Answers that one person gives in an hour, until somebody says otherwise: common practice, not measured. */
const AN_HOUR = 30;
/** The clock runs so many hours in a second. */
const FAST = 4;
const FRAME = 100;

/** Plays the plan on a clock that runs fast, with how texts and answers fared lately; nothing is sent, nothing is written. */
export function Rehearse({
  id,
  draft,
  now,
  change,
}: {
  id: number;
  draft: Draft;
  now: number;
  change: (part: Partial<Draft>) => void;
}) {
  const [answer, setAnswer] = useState<{ of: Draft; played: Played }>();
  const { work, busy, error } = useWork();
  const play = () =>
    void work(async () => setAnswer({ of: draft, played: await ask(broadcasts.rehearse, { params: { id }, body: { draft } }) }));
  const stale = answer !== undefined && answer.of !== draft;
  return (
    <Column line above={12} gap={8}>
      <Row between base>
        <Words as="h2">Rehearsal</Words>
        <Button disabled={busy} onClick={play}>
          {answer ? 'Play it again' : 'Play it'}
        </Button>
      </Row>
      {!answer && (
        <Words soft small>
          Plays this plan on a clock that runs fast, with how your texts and answers fared lately. Nothing is sent.
        </Words>
      )}
      {stale && (
        <Words small plum>
          The plan has changed since it was played.
        </Words>
      )}
      {answer && (
        <Outcome {...answer.played} now={now} change={change} key={JSON.stringify(answer.played.played?.last_arrives)} />
      )}
      <Trouble error={error} />
    </Column>
  );
}

function Outcome({ past, played, desk, now, change }: Played & { now: number; change: (part: Partial<Draft>) => void }) {
  const { workspace } = useDesk();
  const { zone } = workspace;
  const [hands, setHands] = useState(Math.max(1, desk));
  const [each, setEach] = useState(AN_HOUR);
  const shown = useFastClock(played?.hours.length ?? 0);
  if (!past)
    return <Words small>Fewer than a hundred texts have gone in the last 30 days: how they fare is not known yet.</Words>;
  if (!played) return <Words small>Nobody gets it yet.</Words>;
  const busiest = played.hours.reduce((most, hour) => (hour.answers > most.answers ? hour : most), played.hours[0]);
  const able = hands * each;
  const pace = deskPace(past, able);
  const sentence = (words: string) => words[0].toUpperCase() + words.slice(1);
  const about = (n: number) => (n > 0 && n < 1 ? 'fewer than one' : `about ${count(Math.round(n))}`);
  return (
    <Column gap={8}>
      <Words as="p" small aria-live="polite">
        The last goes {when(played.last_goes, zone, now)} and arrives by <b>{when(played.last_arrives, zone, now)}</b>.{' '}
        <b>{sentence(about(played.fails))}</b> of {count(played.texts)} do not arrive. <b>{sentence(about(played.answers))}</b>{' '}
        {Math.round(played.answers) === 1 ? 'answer' : 'answers'}
        {played.answers >= 1 && (
          <>
            , most of them <b>{about(busiest.answers)}</b> in the hour from {clockTime(busiest.at, zone)}
            {dayOf(busiest.at, zone) === dayOf(played.hours[0].at, zone) ? '' : `, ${dayOf(busiest.at, zone)}`}
          </>
        )}
        .{' '}
        <Bit soft>
          As your last {count(past.texts)} texts did in {past.hours === 24 ? 'a day' : `${past.hours / 24} days`}.
        </Bit>
      </Words>
      <Hours hours={played.hours.slice(0, 48)} shown={shown} zone={zone} />
      {played.answers >= 1 && (
        <Row base gap={4} small>
          <TypedValue
            label="People who answer"
            type="number"
            value={hands}
            input={{ min: 1, max: 99 }}
            onChange={(typed) => Number(typed) >= 1 && setHands(Math.min(99, Math.round(Number(typed))))}
          />
          {hands === 1 ? 'person answers' : 'people answer'}
          <TypedValue
            label="Answers an hour each"
            type="number"
            value={each}
            input={{ min: 1, max: 500 }}
            onChange={(typed) => Number(typed) >= 1 && setEach(Math.min(500, Math.round(Number(typed))))}
          />
          an hour each:{' '}
          {busiest.answers <= able || pace === undefined ? (
            <span>the desk keeps up.</span>
          ) : (
            <>
              <span>
                {people(hands)} cannot keep up with {count(Math.round(busiest.answers))}.
              </span>
              <Way onClick={() => change({ pace: { kind: 'a_minute', texts: pace } })}>send {count(pace)} a minute instead</Way>
            </>
          )}
        </Row>
      )}
    </Column>
  );
}

/** How many hours have been played; all of them at once for whoever wants no motion. */
function useFastClock(hours: number): number {
  const still = typeof window.matchMedia === 'function' && window.matchMedia('(prefers-reduced-motion: reduce)').matches;
  const [played, setPlayed] = useState(still ? hours : 0);
  useEffect(() => {
    if (played >= hours) return;
    const timer = setTimeout(() => setPlayed(played + Math.max(1, (FAST * FRAME) / 1000)), FRAME);
    return () => clearTimeout(timer);
  }, [played, hours]);
  return Math.min(hours, Math.ceil(played));
}

function Hours({ hours, shown, zone }: { hours: { at: string; texts: number; answers: number }[]; shown: number; zone: string }) {
  const { palette, plain, along, counted } = useChartLook();
  const days = hours.length > 24;
  const of = (pick: (hour: (typeof hours)[number]) => number) => hours.map((hour, i) => (i < shown ? pick(hour) : 0));
  return (
    <Figure height={110} caption="hour by hour: texts that go (wash, left) and answers to expect (right)">
      <Bar
        aria-label={`Answers to expect by hour: ${hours.map((hour) => `${clockTime(hour.at, zone)} ${Math.round(hour.answers)}`).join(', ')}`}
        data={{
          labels: hours.map((hour) => (days ? `${dayOf(hour.at, zone)} ${clockTime(hour.at, zone)}` : clockTime(hour.at, zone))),
          datasets: [
            {
              label: 'texts',
              data: of((hour) => hour.texts),
              backgroundColor: palette.divider,
              yAxisID: 'texts',
              grouped: false,
              categoryPercentage: 1,
              barPercentage: 0.96,
            },
            {
              label: 'answers',
              data: of((hour) => Math.round(hour.answers * 10) / 10),
              backgroundColor: palette.primary.main,
              yAxisID: 'answers',
              grouped: false,
              categoryPercentage: 1,
              barPercentage: 0.4,
            },
          ],
        }}
        options={{
          ...plain,
          scales: {
            x: along(8),
            texts: { position: 'left', suggestedMax: Math.max(...hours.map((hour) => hour.texts)), ...counted(3) },
            answers: {
              position: 'right',
              suggestedMax: Math.max(...hours.map((hour) => hour.answers)),
              ...counted(3),
              grid: { display: false },
            },
          },
        }}
      />
    </Figure>
  );
}
