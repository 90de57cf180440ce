import { Button } from '@mui/material';
import type { ReactNode } from 'react';
import { count } from '../format';
import { Bit, Row } from '../layout';

/** From page to page of a list that is paged by the server. Nothing while there is only one. */
export function Pager({
  skip,
  page,
  total,
  go,
}: {
  skip: number;
  page: number;
  total: number | undefined;
  go: (skip: number) => void;
}): ReactNode {
  if (total === undefined || total <= page) return null;
  return (
    <Row screenOnly pad="8px 0">
      <Button disabled={skip === 0} onClick={() => go(Math.max(0, skip - page))}>
        Later ones
      </Button>
      <Bit soft small>
        {count(skip + 1)} to {count(Math.min(total, skip + page))} of {count(total)}
      </Bit>
      <Button disabled={skip + page >= total} onClick={() => go(skip + page)}>
        Earlier ones
      </Button>
    </Row>
  );
}
