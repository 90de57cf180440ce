import { people } from '../../../core/api/people/people';
import { mayDo } from '../../../core/api/roles';
import type { RunAnswer } from '../../../core/api/sending/runs';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count } from '../../pieces/format';
import { Row, Words } from '../../pieces/layout';
import { useSay } from '../../pieces/Said';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';

/** Who left a list by its standing rule once the run had ended, and how that is undone. */
export function RunLeft({ answer }: { answer: RunAnswer }) {
  const { account } = useDesk();
  const say = useSay();
  const undo = useAct(people.undoBulk);
  const { work, busy, error } = useWork();
  if (answer.left.length === 0) return null;
  return (
    <div>
      <Words as="h2" under below={6}>
        Lists cleaned
      </Words>
      {answer.left.map((each) => (
        <Row between base under pad="7px 0" key={each.id}>
          <Words grow soft={each.undone}>
            <b>{count(each.people)}</b> {each.what}
            {each.undone && ', undone'}
          </Words>
          {!each.undone && mayDo(account.role, 'write') && (
            <Way
              small
              disabled={busy}
              onClick={() =>
                void work(async () => {
                  const done = await undo({ params: { id: each.id } });
                  say(`${count(done.people)} are on the list again.`);
                })
              }
            >
              put them back
            </Way>
          )}
        </Row>
      ))}
      <Trouble error={error} />
    </div>
  );
}
