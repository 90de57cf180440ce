import { Box, Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { fixFor } from '../../../core/plan/ready/fixes';
import { LIMITS, measure } from '../../../core/text/measure';
import { Choose, TypedValue } from '../../pieces/form/choices';
import { count, languageName, listed, money, parts, people } from '../../pieces/format';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Value, Way } from '../../pieces/ways';

const NAMED: Record<string, string> = {
  '–': 'dash',
  '—': 'long dash',
  '’': 'curly apostrophe',
  '“': 'curly quote',
  '”': 'curly quote',
  '…': 'ellipsis',
};
const Say = styled(Box)(({ theme }) => ({
  borderLeft: `3px solid ${theme.bell.brick}`,
  padding: '3px 0 3px 10px',
  display: 'flex',
  gap: 10,
  justifyContent: 'space-between',
  alignItems: 'center',
  fontSize: 13.5,
}));

const MOST_NAMED = 4;

/** One warning for all that turns texts into extended ones: which characters, what they cost over everyone, and one act that puts it right. */
export function Forcing({
  draft,
  plan,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  if (!plan || plan.forcing.length === 0) return null;
  const characters = [...new Set(plan.forcing.map(({ character }) => character))];
  const named = characters.map((each) =>
    each.trim() === '' ? 'a character that cannot be seen' : NAMED[each] ? `${each} (${NAMED[each]})` : each,
  );
  const languages = [...new Set(plan.forcing.map(({ language }) => language))].map(languageName);
  const which = plan.languages.length > 1 ? `the ${listed(languages)} texts` : 'every text';
  const fix = fixFor({ check: 'extended characters' }, draft, plan);
  const { extended_cost: extra } = plan;
  const said =
    named.length > MOST_NAMED
      ? listed([...named.slice(0, MOST_NAMED - 1), `${named.length - MOST_NAMED + 1} more`])
      : listed(named);
  return (
    <Say>
      <span>
        <b>{said.charAt(0).toUpperCase() + said.slice(1)}</b> {characters.length === 1 ? 'turns' : 'turn'} {which} into extended
        characters
        {extra && extra.parts > 0 ? (
          <>
            :{' '}
            <b>
              {count(extra.parts)} more {extra.parts === 1 ? 'part' : 'parts'}, {money(extra.cost_micro, plan.currency)}
            </b>
          </>
        ) : (
          ', without a part more'
        )}
      </span>
      {fix && <Button onClick={() => change(fix.part)}>{fix.says.charAt(0).toUpperCase() + fix.says.slice(1)}</Button>}
    </Say>
  );
}

const Spread = styled(Row)({ alignItems: 'flex-end' });
const Share = styled(Words)({ minWidth: 84 });
const ShareBar = styled('div')(({ theme }) => ({ background: theme.bell.lake }));

/** How long it is: alphabet, units, and over everyone how many get how many parts. */
export function Measure({
  draft,
  words,
  language,
  plan,
  change,
  seeProofs,
}: {
  draft: Draft;
  /** Those that are shown, and their language. */
  words: string;
  language: string;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
  seeProofs: (which: string) => void;
}) {
  const own = measure(words);
  const row = plan?.languages.find((each) => each.language === language);
  const known = plan && plan.people > 0 ? plan : undefined;
  // of the words that are shown; what values of some people need is said beside it
  const alphabet = measure(`${words}${row?.replies ?? ''}${draft.opt_out === 'after' ? '' : (row?.opt_out ?? '')}`).alphabet;
  const others = known && alphabet === 'gsm7' ? known.alphabet.ucs2 : 0;
  const most = Math.max(1, ...(plan?.distribution.map((each) => each.people) ?? []));
  return (
    <Row between nowrap starts gap={16}>
      <Column small gap={2}>
        <span>
          {alphabet === 'gsm7' ? 'plain' : 'extended'} characters, {LIMITS[alphabet].alone} in one part, then{' '}
          {LIMITS[alphabet].joined} a part <Bit soft>({alphabet === 'gsm7' ? 'GSM-7' : 'UCS-2'})</Bit>
          {others > 0 && <Bit soft>; extended ones for {people(others)}</Bit>}
        </span>
        <span aria-live="polite">
          {known ? (
            <>
              usual length {known.units.usual}, longest {known.units.longest}
              {known.fallback > 0 ? ` · ${people(known.fallback)} get the fallback` : ''}
            </>
          ) : (
            `${own.units} used, ${own.left} left`
          )}
        </span>
        {row?.replies && (
          <span>
            added: <Bit soft>“{row.replies}”</Bit>
          </span>
        )}
        <OptOut
          draft={draft}
          language={language}
          ending={row?.opt_out}
          costs={known?.after ? `${parts(known.after.parts)} more, ${money(known.after.cost_micro, known.currency)}` : undefined}
          takesReplies={plan?.sender?.kind !== 'name'}
          change={change}
        />
      </Column>
      {known && (
        <Spread nowrap gap={6} fixed role="group" aria-label="Texts by number of parts">
          {known.distribution.slice(0, 5).map((each) => (
            <Share small nobreak key={each.parts}>
              {parts(each.parts)}{' '}
              <Way
                aria-label={`${count(each.people)} with ${parts(each.parts)}: see their texts`}
                onClick={() => seeProofs(`parts_${each.parts}`)}
              >
                <b>{count(each.people)}</b>
              </Way>
              <ShareBar style={{ height: 3 + (27 * each.people) / most }} />
            </Share>
          ))}
        </Spread>
      )}
    </Row>
  );
}

/** How somebody says that they want no more: words, a link of their own, or said by the text itself; its wording can be changed here. */
function OptOut({
  draft,
  language,
  ending,
  takesReplies,
  costs,
  change,
}: {
  draft: Draft;
  language: string;
  /** What the texts of this language end with. */
  ending: string | undefined;
  takesReplies: boolean;
  /** What texts of their own come to over everyone. */
  costs: string | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const [changing, setChanging] = useState(false);
  const own = draft.opt_out_words?.[language];
  const shown = (ending ?? '').replace(/\s*\S+\/o\/\S+$/, '');
  const set = (words: string) => change({ opt_out_words: { ...draft.opt_out_words, [language]: words.slice(0, 120) } });
  return (
    <Row gap={4} base>
      opt-out wording
      <Choose
        label="Opt-out wording"
        value={draft.opt_out}
        options={[
          ['in_text', takesReplies ? 'in the text' : 'in the text, though it takes no reply'],
          ['link', 'as a personal link'],
          ['after', 'as a text of its own, after it'],
          ['none', 'not added'],
        ]}
        onChange={(opt_out) => change({ opt_out, opt_out_words: undefined })}
      />
      {draft.opt_out !== 'none' &&
        (changing ? (
          <TypedValue
            label={`Opt-out wording, ${languageName(language)}`}
            autoFocus
            value={own ?? shown}
            onChange={set}
            onBlur={() => setChanging(false)}
            onKeyDown={(event) => event.key === 'Enter' && setChanging(false)}
          />
        ) : (
          <Value soft aria-label={`Change the opt-out wording: ${shown}`} onClick={() => setChanging(true)}>
            {shown || 'no words'}
          </Value>
        ))}
      {draft.opt_out === 'link' && <Bit soft>and the link</Bit>}
      {draft.opt_out === 'after' && costs && <Bit soft>{costs}</Bit>}
    </Row>
  );
}
