import { people as peopleApi } from '../../../core/api/people/people';
import { mayDo } from '../../../core/api/roles';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count, people, when } from '../../pieces/format';
import { Row, Words } from '../../pieces/layout';
import { useSay } from '../../pieces/Said';
import { Trouble, useNow } from '../../pieces/small';
import { Way } from '../../pieces/ways';

/** What was done with people of the run: tags given, lists cleaned, by somebody or by a list's standing rule; and how it is undone. */
export function RunLeft({ answer }: { answer: RunAnswer }) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const say = useSay();
  const undo = useAct(peopleApi.undoBulk);
  const { work, busy, error } = useWork();
  if (answer.left.length === 0) return null;
  return (
    <section aria-label="What was done with them">
      <Words as="h2" under below={6}>
        What was done with them
      </Words>
      {answer.left.map((each) => (
        <Row between base under pad="7px 0" key={each.id}>
          <Words grow soft={each.undone}>
            <b>{count(each.people)}</b> {each.what}
            {each.undone && ', undone'}
            <Words small soft>
              {each.by ?? 'by itself'}, {when(each.at, workspace.zone, now)}
            </Words>
          </Words>
          {!each.undone && mayDo(account.role, 'write') && (
            <Way
              small
              disabled={busy}
              onClick={() =>
                void work(async () => {
                  const done = await undo({ params: { id: each.id } });
                  say(`${people(done.people)}: as before.`);
                })
              }
            >
              undo it
            </Way>
          )}
        </Row>
      ))}
      <Trouble error={error} />
    </section>
  );
}
