import type { Queryable } from '../db/db';

/** What stands on a handset's screen, as the practice carrier keeps it. */
interface KnownScreen {
  /** Digits, without the plus. */
  number: string;
  texts: { direction: 'in' | 'out'; address: string; text: string; at: string }[];
}

const MOST_PHONES = 60;
const MOST_TEXTS = 12;
/** The latest so many are looked at: a phone whose last text is older is not among those that are shown first. */
const LOOKED_AT = 2000;

/**
 * What the latest phones have on their screens as far as this desk knows: texts that were delivered, and those that came from them. A
 * practice carrier that has just begun knows nothing of what was before it.
 */
export async function knownScreens(db: Queryable): Promise<KnownScreen[]> {
  const { rows } = await db.query<{ number: string; direction: 'in' | 'out'; address: string; text: string; at: string }>(
    `WITH latest AS (
       (SELECT outbound.number, 'in' AS direction, sender.address, outbound.body AS text, coalesce(outbound.final_at, outbound.handed_at) AS at
        FROM outbound JOIN sender ON sender.id = outbound.sender_id WHERE outbound.state = 'delivered' AND outbound.number LIKE '+%' ORDER BY outbound.id DESC LIMIT ${LOOKED_AT})
       UNION ALL
       (SELECT number, 'out', to_address, body, received_at FROM inbound WHERE number LIKE '+%' ORDER BY id DESC LIMIT ${LOOKED_AT})
     ), phones AS (SELECT number, max(at) AS last FROM latest GROUP BY number ORDER BY last DESC, number LIMIT ${MOST_PHONES})
     SELECT latest.* FROM latest JOIN phones USING (number) WHERE text <> '' ORDER BY phones.last DESC, number, at, direction`,
  );
  const screens: KnownScreen[] = [];
  for (const { number, ...text } of rows) {
    const digits = number.slice(1);
    if (screens.at(-1)?.number !== digits) screens.push({ number: digits, texts: [] });
    screens.at(-1)?.texts.push(text);
  }
  return screens.map(({ number, texts }) => ({ number, texts: texts.slice(-MOST_TEXTS) }));
}
