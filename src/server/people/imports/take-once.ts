import { writeRecord } from '../../db/record';
import type { Tx } from '../../db/db';
import type { App } from '../../app-context';
import type { Asked } from '../../http/route';
import { refuseUnanswered } from './bench-questions';
import { busy, importOf, openImport } from './import-store';

/** A file as one broadcast takes it. */
export interface OnceFile {
  id: number;
  /** It has the whole text of each of its people. */
  readyText: boolean;
}

/**
 * Takes a file off the bench for one broadcast; nobody enters the address book. `give` puts it there, in the same transaction: where that
 * cannot be, the file stays on the bench. Answers the broadcast.
 * @throws Refusal where something of the file is not answered yet, or the bench has moved on
 */
export async function takeOnce(
  app: App,
  id: number,
  asked: Asked<unknown>,
  give: (tx: Tx, file: OnceFile) => Promise<number>,
): Promise<number> {
  await app.imports.settled(id);
  const staged = await openImport(app.db, id);
  await refuseUnanswered(app.db, staged);
  const broadcast = await app.db.transaction(async (tx) => {
    const taken = await tx.query(
      `UPDATE import SET state = 'once', decided_at = $2::timestamptz WHERE id = $1 AND state = 'open' AND at_row = 0 AND version = $3 AND checked_version = $3`,
      [id, asked.at, staged.version],
    );
    if (taken.rowCount === 0) throw busy(await importOf(tx, id));
    await writeRecord(tx, asked, 'took a file for one broadcast', staged.file_name, { import: id });
    return give(tx, { id, readyText: staged.settings.match.includes('ready_text') });
  });
  await app.imports.forget(id);
  app.bus.changed('import', id);
  return broadcast;
}
