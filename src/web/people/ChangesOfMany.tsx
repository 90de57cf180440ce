import { people as peopleApi, type ManyChanged } from '../../core/api/people/people';
import { mayDo } from '../../core/api/roles';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { count, people, when } from '../pieces/format';
import { Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';

/** What was done with many people at once, by whom and when, each with what undoes it: also after one has looked elsewhere. */
export function ChangesOfMany({ changes }: { changes: readonly ManyChanged[] }) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const undoing = useUndoMany();
  return (
    <>
      {changes.map((each) => (
        <Row between base under pad="7px 0" key={each.id}>
          <Words grow soft={each.undone}>
            <b>{count(each.people)}</b> {each.what}
            {each.undone && ', undone'}
            <Words small soft>
              {each.by ?? 'by itself'}, {when(each.at, workspace.zone, now)}
            </Words>
          </Words>
          <UndoMany change={each} undoing={undoing} />
        </Row>
      ))}
      <Trouble error={undoing.error} />
    </>
  );
}

/** Takes such a change back, and says for how many. */
export function useUndoMany() {
  const say = useSay();
  const undo = useAct(peopleApi.undoBulk);
  const { work, busy, error } = useWork();
  const take = (id: number) =>
    void work(async () => {
      const done = await undo({ params: { id } });
      say(`${people(done.people)}: as before.`);
    });
  return { take, busy, error };
}

export function UndoMany({ change, undoing }: { change: ManyChanged; undoing: ReturnType<typeof useUndoMany> }) {
  const { account } = useDesk();
  if (change.undone || !mayDo(account.role, 'write')) return undefined;
  return (
    <Way small nobreak disabled={undoing.busy} onClick={() => undoing.take(change.id)}>
      undo it
    </Way>
  );
}
