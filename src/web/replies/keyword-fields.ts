import { Type, type Static } from 'typebox';
import { KeywordBody, type Keyword } from '../../core/api/desk/keywords';
import { Shape } from '../../core/api/shapes';
import { localInstant, wallClock } from '../../core/zones';

const { word, purpose, consent_wording, confirms, asks_first, asks } = KeywordBody.properties;
const Chosen = Type.String();

/** A keyword as a form holds it: what is chosen by its id as text, and days in the workspace's zone; nothing is an empty text. */
export const KeywordFields = Shape({
  word,
  purpose,
  consent_wording,
  confirms,
  asks_first,
  asks,
  sender_id: Chosen,
  list_id: Chosen,
  tag_id: Chosen,
  from_day: Type.String(),
  until_day: Type.String(),
});
export type KeywordFields = Static<typeof KeywordFields>;

const DAY = 86_400_000;

export function startOf(keyword: Keyword | undefined, sender: number, workspace: string, zone: string): KeywordFields {
  if (!keyword)
    return {
      word: '',
      purpose: 'service',
      consent_wording: '',
      confirms: `${workspace}: you are on the list. STOP to get no more.`,
      asks_first: false,
      asks: `${workspace}: reply YES to get our texts.`,
      sender_id: String(sender),
      list_id: '',
      tag_id: '',
      from_day: '',
      until_day: '',
    };
  return {
    word: keyword.word,
    purpose: keyword.purpose,
    consent_wording: keyword.consent_wording,
    confirms: keyword.confirms,
    asks_first: keyword.asks_first,
    asks: keyword.asks,
    sender_id: String(keyword.sender_id),
    list_id: keyword.list_id === null ? '' : String(keyword.list_id),
    tag_id: keyword.tag_id === null ? '' : String(keyword.tag_id),
    from_day: wallClock(Date.parse(keyword.from_at), zone).date,
    // it holds to the end of that day
    until_day: keyword.until_at === null ? '' : wallClock(Date.parse(keyword.until_at) - 1, zone).date,
  };
}

/** The day as an instant: its beginning, or the beginning of the one after it. */
function dayStart(day: string, zone: string, after: boolean): string | null {
  if (day === '') return null;
  const date = after ? new Date(Date.parse(`${day}T00:00:00Z`) + DAY).toISOString().slice(0, 10) : day;
  return new Date(localInstant(date, '00:00', zone).instant).toISOString();
}

export function bodyOf(fields: KeywordFields, zone: string, before: Keyword | undefined): KeywordBody {
  const { sender_id, list_id, tag_id, from_day, until_day, ...rest } = fields;
  const same = before && from_day === wallClock(Date.parse(before.from_at), zone).date;
  return {
    ...rest,
    sender_id: Number(sender_id),
    list_id: list_id === '' ? null : Number(list_id),
    tag_id: tag_id === '' ? null : Number(tag_id),
    // the minute at which it began stays, where its day does
    from_at: same ? before.from_at : dayStart(from_day, zone, false),
    until_at: dayStart(until_day, zone, true),
  };
}
