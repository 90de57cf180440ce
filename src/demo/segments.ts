import type { Condition } from '../core/audience/condition';
import type { Db } from '../server/db/db';

/** Segments that a desk like Ottermere's would keep. */
export async function makeSegments(db: Db, at: string): Promise<void> {
  const idOf = async (table: 'list' | 'tag', name: string) =>
    (await db.query<{ id: number }>(`SELECT id FROM ${table} WHERE name = $1`, [name])).rows[0].id;
  const crew = await idOf('list', 'Crew and staff');
  const passes = await idOf('list', 'Pass holders');
  const segments: [string, Condition][] = [
    [
      'Lapsing passes, lake',
      {
        op: 'all',
        of: [
          { on: 'field', field: 'pass_ends', test: 'next_days', days: 30 },
          { on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay', 'Pine Point'] },
          {
            op: 'none',
            of: [
              { on: 'activity', what: 'answered', when: 'last_days', days: 7 },
              { on: 'list', ids: [crew] },
            ],
          },
        ],
      },
    ],
    [
      'Pass holders, North Landing',
      {
        op: 'all',
        of: [
          { on: 'list', ids: [passes] },
          { on: 'field', field: 'home_landing', test: 'is', values: ['North Landing'] },
        ],
      },
    ],
    [
      'Never answered',
      {
        op: 'all',
        of: [
          { on: 'activity', what: 'delivered', when: 'last_days', days: 90 },
          { op: 'none', of: [{ on: 'activity', what: 'answered', when: 'ever', days: 0 }] },
        ],
      },
    ],
    [
      'First contacts of Pike',
      {
        on: 'dependant',
        contact: 'first',
        of: { op: 'all', of: [{ on: 'field', field: 'class', test: 'is', values: ['Pike'] }] },
      },
    ],
  ];
  for (const [name, rule] of segments)
    await db.query(
      `INSERT INTO segment (name, rule, created_at, updated_at) VALUES ($1, $2::jsonb, $3::timestamptz, $3::timestamptz)`,
      [name, JSON.stringify('op' in rule ? rule : { op: 'all', of: [rule] }), at],
    );
}
