/**
 * When replies to a text are read no more, of `outbound o`, its `run`, its `person` and the `workspace`: the midnight that ends the last
 * day which the text named, where the recipient is. A text that went on a later day than planned has it so many days later: nobody
 * has less time than was said. Null where that has no end.
 */
export const REPLIES_UNTIL = `(((greatest(o.due_at, o.handed_at) AT TIME ZONE coalesce(person.zone, workspace.zone))::date + run.reply_days::int + 1)::timestamp
  AT TIME ZONE coalesce(person.zone, workspace.zone))`;
