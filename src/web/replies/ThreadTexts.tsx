import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useLayoutEffect, useRef } from 'react';
import type { ThreadText } from '../../core/api/desk/replies';
import { useDesk } from '../api/session';
import { clockTime, count, dayOf } from '../pieces/format';
import { Bit, Bubble, Column, Row, Words } from '../pieces/layout';
import { Ring } from '../pieces/chart/Ring';
import { Way } from '../pieces/ways';
import { KIND, oursInWords, quoted, readable } from './reply-words';

const Log = styled(Column)(({ theme }) => ({
  flex: 1,
  minHeight: 0,
  overflow: 'auto',
  // on a phone the answer stays within reach of the thumb
  [theme.breakpoints.down('md')]: { maxHeight: '46dvh' },
}));
/** Keeps what there is at the foot while there is little of it. */
const Said = styled(Column)({ minHeight: '100%', flexShrink: 0, justifyContent: 'flex-end' });

/** What was said, either way, day by day; broadcasts quoted with to how many they went. */
export function ThreadTexts({ texts, more }: { texts: readonly ThreadText[]; more: (() => void) | undefined }) {
  const { zone } = useDesk().workspace;
  const box = useRef<HTMLDivElement>(null);
  const said = useRef<HTMLDivElement>(null);
  const atEnd = useRef(true);
  const lastTop = useRef(0);
  const last = texts.at(-1);
  const newest = last ? `${last.direction}${last.id}` : '';
  // the latest is what is answered: it is in sight to begin with, also once what stands beneath has taken its room
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const toEnd = () => (element.scrollTop = element.scrollHeight);
    toEnd();
    // whoever has gone back to read is left there
    const watch = new ResizeObserver(() => atEnd.current && toEnd());
    watch.observe(element);
    // words wrap anew when their font has come
    if (said.current) watch.observe(said.current);
    return () => watch.disconnect();
  }, [newest]);
  return (
    <Log
      ref={box}
      onScroll={({ currentTarget: { scrollHeight, scrollTop, clientHeight } }) => {
        // what takes room beneath, or grows, is nobody going back: only a way up is
        if (scrollHeight - scrollTop - clientHeight < 24) atEnd.current = true;
        else if (scrollTop < lastTop.current) atEnd.current = false;
        lastTop.current = scrollTop;
      }}
      pad="12px 20px"
      gap={8}
      role="log"
      aria-label="What was said"
      tabIndex={0}
    >
      <Said ref={said} gap={8}>
        {more && (
          <Row>
            <Button onClick={more}>Show what was said before</Button>
          </Row>
        )}
        {texts.map((text, i) => {
          const day = dayOf(text.at, zone);
          const newDay = i === 0 || dayOf(texts[i - 1].at, zone) !== day;
          return (
            <Column gap={8} key={`${text.direction}${text.id}`}>
              {newDay && (
                <Words soft small centered>
                  {day}
                </Words>
              )}
              {text.direction === 'to' ? <Ours text={text} zone={zone} /> : <Theirs text={text} zone={zone} />}
            </Column>
          );
        })}
      </Said>
    </Log>
  );
}

function Ours({ text, zone }: { text: ThreadText; zone: string }) {
  const rest = oursInWords(text);
  return (
    <Bubble to>
      {text.run_id ? (
        <>
          <Way to={`/runs/${text.run_id}`}>{text.run || 'no name'}</Way>
          {text.people !== null && `, to ${count(text.people)}`}
          {text.meant !== null && `, here for ${text.meant}`}: <Bit soft>“{quoted(text.body) || 'erased'}”</Bit>
        </>
      ) : (
        text.body || <i>erased</i>
      )}
      <Row gap={6} soft small>
        {text.state && <Ring state={text.state} />}
        <span>
          {clockTime(text.at, zone)}
          {rest && ` · ${rest}`}
        </span>
      </Row>
    </Bubble>
  );
}

function Theirs({ text, zone }: { text: ThreadText; zone: string }) {
  return (
    <>
      <Bubble to={false}>
        {text.body || (text.octets === null ? <i>erased</i> : <code>{readable(text.octets)}</code>)}
        <Words soft small>
          {clockTime(text.at, zone)}
          {text.late &&
            (text.read_days === null
              ? ', late: what it answers was of no more use'
              : `, late: replies to it were read for ${text.read_days === 1 ? 'a day' : `${text.read_days} days`}, as it said`)}
          {text.passed_to && ` · passed on to ${text.passed_to}`}
        </Words>
      </Bubble>
      {KIND[text.kind] && (
        <Words plum small>
          {KIND[text.kind]}
        </Words>
      )}
      {text.incomplete && (
        <Words plum small>
          A part of this text never came.
        </Words>
      )}
      {text.trouble && (
        <Words brick small role="status">
          {text.trouble}
        </Words>
      )}
    </>
  );
}
