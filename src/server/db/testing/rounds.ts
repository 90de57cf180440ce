/**
 * How many rounds a test plays: a few with every change, many by `npm run trial:rounds`. What a few find in a minute, many look for in the
 * rest; the seeds are the same.
 */
export const rounds = (few: number, many: number): number => (process.env.ROUNDS === 'many' ? many : few);
