import { Button } from '@mui/material';
import { passing, type HeldAnswer } from '../../core/api/desk/passing';
import { useAct } from '../api/client';
import { useWork } from '../api/work';
import { Row, Words } from '../pieces/layout';
import { Trouble } from '../pieces/small';

/** What somebody answered to whom it was passed on, and did not go: taken into the answer, or let be. */
export function Held({ held, take }: { held: readonly HeldAnswer[]; take: ((words: string) => void) | undefined }) {
  const settle = useAct(passing.settle);
  const { work, busy, error } = useWork();
  return (
    <>
      {held.map((each) => (
        <Words key={each.id} line pad="8px 20px" role="status">
          <Words small plum>
            {each.by} answered, and it did not go: {each.reason}
          </Words>
          “{each.words}”
          <Row above={4}>
            {take && (
              <Button
                disabled={busy}
                onClick={() =>
                  void work(async () => {
                    await settle({ params: { id: each.id } });
                    take(each.words);
                  })
                }
              >
                Put it into the answer
              </Button>
            )}
            <Button disabled={busy} onClick={() => void work(() => settle({ params: { id: each.id } }))}>
              Let it be
            </Button>
          </Row>
        </Words>
      ))}
      <Trouble error={error} />
    </>
  );
}
