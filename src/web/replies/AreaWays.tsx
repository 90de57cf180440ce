import { End } from '../pieces/layout';
import { Way } from '../pieces/ways';

const ALL = [
  ['replies', '/replies', 'Replies'],
  ['keywords', '/replies/keywords', 'Keywords'],
  ['passing', '/replies/passing-on', 'Passing on'],
] as const;

/** The ways between the views of the area. */
export function AreaWays({ here }: { here: (typeof ALL)[number][0] }) {
  return (
    <End>
      {ALL.filter(([key]) => key !== here).map(([key, to, name]) => (
        <Way key={key} to={to}>
          {name}
        </Way>
      ))}
    </End>
  );
}
