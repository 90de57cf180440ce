import { describe, expect, test } from 'vitest';
import { isReactionTo, quotedByReaction } from './reaction';

const OURS = 'Ottermere Ferry: the Heron is “out” today, the 5:20 runs. Reply STOP to opt out';

describe('a reaction, as phones write it (common practice, from memory)', () => {
  test.each([
    `Liked “${OURS}”`,
    `Loved "${OURS}"`,
    `Disliked “${OURS.slice(0, 40)}…”`,
    `Laughed at “${OURS}”`,
    `Emphasized “${OURS}”`,
    `Questioned “${OURS}”`,
    `Reacted 👍 to “${OURS}”`,
    `Reacted 😂 to your message “${OURS}”`,
    `Removed a heart from “${OURS}”`,
    `Removed an exclamation mark from “${OURS}”`,
    `👍 to “${OURS}”`,
    `❤️ to "${OURS.slice(0, 30)}..."`,
    `👍🏽 “${OURS}”`,
    `\u200b👍\u200b to “\u200a${OURS}\u200a”`,
    `A aimé « ${OURS} »`,
    `A réagi par 👍 à « ${OURS} »`,
    `Le gustó “${OURS}”`,
    `Reaccionó con 👍 a “${OURS}”`,
  ])('%j', (text) => expect(isReactionTo(text, ['Yes, it runs.', OURS])).toBe(true));

  test.each([
    'STOP',
    `${OURS}`,
    `“${OURS}”`,
    `Liked “${OURS}” but stop texting me`,
    `Stop “${OURS}”`,
    'Liked “Please stop texting me, I mean it”',
    'Loved “STOP”',
    'I liked “the Heron” and want to stop',
    '👍',
    'Liked “”',
    '',
  ])('is none: %j', (text) => expect(isReactionTo(text, [OURS])).toBe(false));

  test('what is quoted comes without the sign that it was cut', () => {
    expect(quotedByReaction('Liked “Heron is out…”')).toBe('Heron is out');
    expect(quotedByReaction('Liked it a lot')).toBeUndefined();
  });
});
