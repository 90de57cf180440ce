import { Button } from '@mui/material';
import { Link } from 'react-router';
import { Row } from '../pieces/layout';
import { Nothing } from '../pieces/small';
import { NotInIt } from './rules/NotInIt';
import type { usePeople } from './use-people';

/** Why nobody stands here. @param add adds a person, for who may */
export function Nobody({ here, add }: { here: ReturnType<typeof usePeople>; add: (() => void) | undefined }) {
  const { search, rule, linkTo } = here;
  const { list, tag, cannot } = here.in;
  if (search && rule) return <NotInIt search={search} linkTo={linkTo} />;
  if (search) return <Nothing title="Nobody of that name">Nobody here matches “{search}”.</Nothing>;
  if (list)
    return (
      <Nothing title="Nobody is on this list yet">
        People come onto it with a file, from their profile, or when they are chosen in the table of everyone.
      </Nothing>
    );
  if (rule)
    return <Nothing title="Nobody fits this just now">A segment keeps itself current: whoever fits later is in it.</Nothing>;
  if (tag || cannot) return <Nothing title="Nobody">Nobody is here just now.</Nothing>;
  return (
    <Nothing
      title="Nobody yet"
      act={
        add && (
          <Row>
            <Button variant="contained" component={Link} to="/people/bring-in">
              Bring in people
            </Button>
            <Button onClick={add}>Add a person</Button>
          </Row>
        )
      }
    >
      Everyone you may text stands here. Bring in a spreadsheet, however damaged, or add somebody by hand.
    </Nothing>
  );
}
