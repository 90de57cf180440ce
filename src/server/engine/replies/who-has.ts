/** Who has a number now, as SQL: of several the one that was texted there last, else the first; null when it is nobody's. */
export const whoHas = (numberSql: string) => `coalesce(
  (SELECT o.person_id FROM outbound o JOIN person p ON p.id = o.person_id AND p.number = o.number WHERE o.number = ${numberSql} AND o.handed_at IS NOT NULL ORDER BY o.id DESC LIMIT 1),
  (SELECT id FROM person WHERE number = ${numberSql} ORDER BY id LIMIT 1))`;
