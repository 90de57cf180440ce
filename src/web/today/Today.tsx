import { today } from '../../core/api/desk/today';
import { useGet } from '../api/client';
import { Panes, Spoken } from '../pieces/layout';
import { useTitle, Waiting } from '../pieces/small';
import { GoingOut } from './GoingOut';
import { JustSent } from './JustSent';
import { NeedsYou } from './NeedsYou';
import { Unopened } from '../pieces/Unopened';

/** Needs you, going out, just sent. */
export default function Today() {
  useTitle('Today');
  const answer = useGet(today.get, {}, { keep: true });
  if (answer.error && !answer.data) return <Unopened what="Today" error={answer.error} />;
  if (!answer.data) return <Waiting what="Looking at the day…" />;
  return (
    <Panes columns="minmax(0, 1.5fr) minmax(0, 1.12fr) minmax(0, 1fr)">
      <Spoken as="h1">Today</Spoken>
      <NeedsYou today={answer.data} />
      <GoingOut going={answer.data.going} coming={answer.data.coming} ready={answer.data.missing.length === 0} />
      <JustSent sent={answer.data.sent} />
    </Panes>
  );
}
