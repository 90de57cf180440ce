import { Tab, Tabs } from '@mui/material';
import { styled } from '@mui/material/styles';
import { lazy, Suspense, type ReactNode } from 'react';
import { Link, Navigate, useParams } from 'react-router';
import { setup, type SetupAnswer } from '../../core/api/setup';
import { mayDo } from '../../core/api/roles';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { Bit, Head, Pane } from '../pieces/layout';
import { Trouble, useTitle, Waiting } from '../pieces/small';
import { PARTS, type Part } from './parts';

const WorkspacePart = lazy(() => import('./WorkspacePart'));
const WordingsPart = lazy(() => import('./WordingsPart'));
const SendersPart = lazy(() => import('./SendersPart'));
const PricesPart = lazy(() => import('./PricesPart'));
const BalancePart = lazy(() => import('./BalancePart'));
const CarrierPart = lazy(() => import('./CarrierPart'));
const DeskPart = lazy(() => import('./DeskPart'));
const MailPart = lazy(() => import('./MailPart'));
const FieldsPart = lazy(() => import('./FieldsPart'));
const TeamPart = lazy(() => import('./TeamPart'));
const AccountPart = lazy(() => import('./AccountPart'));
const ApiPart = lazy(() => import('./ApiPart'));
const WorkPart = lazy(() => import('./WorkPart'));
const RecordPart = lazy(() => import('./RecordPart'));

function partOf(part: Part, data: SetupAnswer, manage: boolean, write: boolean): ReactNode {
  switch (part) {
    case 'workspace':
      return <WorkspacePart data={data} manage={manage} />;
    case 'wordings':
      return <WordingsPart data={data} manage={manage} />;
    case 'senders':
      return <SendersPart data={data} manage={manage} />;
    case 'prices':
      return <PricesPart data={data} manage={manage} />;
    case 'balance':
      return <BalancePart data={data} manage={manage} />;
    case 'carrier':
      return <CarrierPart data={data} manage={manage} />;
    case 'desk':
      return <DeskPart manage={manage} />;
    case 'mail':
      return <MailPart manage={manage} />;
    case 'fields':
      return <FieldsPart fields={data.fields} may={write} manage={manage} />;
    case 'team':
      return <TeamPart data={data} manage={manage} />;
    case 'account':
      return <AccountPart />;
    case 'work':
      return <WorkPart />;
    case 'record':
      return <RecordPart />;
    case 'api':
      return <ApiPart />;
  }
}

// lines do not grow longer than they are read well
const Whole = styled('div')({ maxWidth: 1240 });

/** The organization's settings, in parts; each is a form that saves and says so. */
export default function Setup() {
  const part = useParams().part ?? 'workspace';
  const known = PARTS.find((each) => each.key === part);
  const { account } = useDesk();
  const answer = useGet(setup.get, {}, { keep: true });
  useTitle(known ? `${known.name}, Setup` : 'Setup');
  if (!known) return <Navigate to="/setup/workspace" replace />;
  const manage = mayDo(account.role, 'manage');
  return (
    <>
      <Head>
        <h1>Setup</h1>
        <Tabs value={part} variant="scrollable" scrollButtons="auto" allowScrollButtonsMobile aria-label="Parts of the setup">
          {PARTS.map(({ key, name }) => (
            <Tab key={key} value={key} label={name} component={Link} to={`/setup/${key}`} />
          ))}
        </Tabs>
        {!manage && <Bit soft>Your role is “{account.role}”: you may look.</Bit>}
      </Head>
      <Pane as="section" grow pad="16px 20px" aria-label={`${known.name}, settings`} tabIndex={0}>
        {answer.error && !answer.data ? (
          <Trouble error={answer.error} />
        ) : !answer.data ? (
          <Waiting what="Opening the setup…" />
        ) : (
          <Suspense fallback={<Waiting what="Opening…" />}>
            <Whole>{partOf(known.key, answer.data, manage, mayDo(account.role, 'write'))}</Whole>
          </Suspense>
        )}
      </Pane>
    </>
  );
}
