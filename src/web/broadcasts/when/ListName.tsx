import { people } from '../../../core/api/people/people';
import { useGet } from '../../api/client';

/** A list by its name, in quotes. */
export function ListName({ id }: { id: number }) {
  const lists = useGet(people.sources, {}, { keep: true }).data?.lists;
  if (!lists) return <>the list …</>;
  const list = lists.find((each) => each.id === id);
  return <>{list ? `“${list.name}”` : 'a list that has been deleted'}</>;
}
