import { showPhone } from '../pieces/phone';
import { opensOnlyHere } from '../../core/plan/draft/web-address';
import { PublicAddress } from './PublicAddress';
import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { mayDo } from '../../core/api/roles';
import { setup, WorkspaceBody, type SetupAnswer } from '../../core/api/setup';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { useContractForm, useSubmit } from '../pieces/form/form';
import { count, money } from '../pieces/format';
import { Bit, Column, End, Form, Head, Pane, Row, Words } from '../pieces/layout';
import { Ring } from '../pieces/chart/Ring';
import { useSay } from '../pieces/Said';
import { Trouble, useTitle, Waiting } from '../pieces/small';
import { AddToBalance } from './BalancePart';
import { PriceForms } from './PricesPart';
import { firstSender, SenderForm } from './SendersPart';
import { OptOutFields, OPT_OUT, PlaceFields, QuietFields, TextFields } from './workspace-fields';
import { bodyOf } from './WorkspacePart';
import { Unopened } from '../pieces/Unopened';

/** Everything a first text needs, on one page: each with why it is asked and a start that makes sense. Left and come back to. */
export default function Start() {
  useTitle('Before a first text');
  const { account } = useDesk();
  const answer = useGet(setup.get, {}, { keep: true });
  if (answer.error && !answer.data) return <Unopened what="Before a first text" error={answer.error} />;
  if (!answer.data) return <Waiting what="Looking what is there…" />;
  const data = answer.data;
  const missing = (part: string) => data.missing.some((each) => each.part === part);
  const left = data.missing.filter((each) => each.part !== 'people').length;
  if (!mayDo(account.role, 'manage'))
    return (
      <Pane>
        <p>Your role is “{account.role}”: somebody who manages sets the workspace up.</p>
      </Pane>
    );
  return (
    <>
      <Head>
        <h1>Before a first text</h1>
        <Bit soft role="status">
          {left === 0 ? 'everything is there' : left === 1 ? 'one thing is open' : `${count(left)} things are open`}; leave it at
          any time, it waits for you under Needs you
        </Bit>
        <End>
          <Button component={Link} to="/">
            Later
          </Button>
        </End>
      </Head>
      <Pane grow pad="6px 20px 40px" tabIndex={0} role="region" aria-label="What a first text needs">
        <Column most={780} gap={0}>
          <Section
            title="The workspace"
            open={missing('start') || missing('workspace')}
            why="Its name signs texts, its zone decides when nights are, its country how numbers without a code are read."
          >
            <WorkspaceForm data={data} fresh={missing('start')} />
          </Section>
          <Section
            title="Where others get here"
            open={opensOnlyHere(data.workspace.public_address)}
            why="Links in texts lead there. Without it a text can go, and its links open on this machine only."
            done={data.workspace.public_address}
          >
            <PublicAddress data={data} manage />
          </Section>
          <Section
            title="A sender"
            open={missing('senders')}
            why="A text comes from a number, a short code or a name. Numbers take replies."
            done={data.senders.map((each) => `${each.name}, ${showPhone(each.address)}`).join(' · ')}
          >
            <SenderForm first={firstSender(data)} />
          </Section>
          <Section
            title="Prices"
            open={missing('prices')}
            why="What a part costs, by where it goes: so that the cost is known before, to the last part."
            done={`${count(data.rates.length)} ${data.rates.length === 1 ? 'destination' : 'destinations'}`}
          >
            <PriceForms first={data.rates.length === 0} />
          </Section>
          <Section
            title="Money on the account"
            open={missing('balance')}
            why="Texts are paid before they go. With the practice carrier it is play money."
            done={money(data.balance_micro, data.workspace.currency)}
          >
            <AddToBalance currency={data.workspace.currency} start="20" />
          </Section>
          <First ready={left === 0} practice={data.carrier.practice} />
        </Column>
      </Pane>
    </>
  );
}

const Part = styled('section')(({ theme }) => ({
  borderTop: `1px solid ${theme.bell.hairline}`,
  padding: '16px 0 18px',
  '&:first-of-type': { borderTop: 0 },
}));

/** One thing that is needed; what is there already is said in a line and can be opened. */
function Section({
  title,
  why,
  open,
  done,
  children,
}: {
  title: string;
  why: string;
  open: boolean;
  done?: string;
  children: ReactNode;
}) {
  const [shown, setShown] = useState(false);
  return (
    <Part aria-label={title}>
      <Row base nowrap>
        <Bit soft={open}>
          <Ring state={open ? 'planned' : 'delivered'} />
        </Bit>
        <Words grow>
          <h2>{title}</h2>
          <Bit soft small>
            {open ? why : (done ?? 'is set up')}
          </Bit>
        </Words>
        {!open && (
          <Button variant="quiet" aria-expanded={shown} onClick={() => setShown(!shown)}>
            {shown ? 'Close' : 'Change'}
          </Button>
        )}
      </Row>
      {(open || shown) && <Words pad="14px 0 0 22px">{children}</Words>}
    </Part>
  );
}

function WorkspaceForm({ data, fresh }: { data: SetupAnswer; fresh: boolean }) {
  const say = useSay();
  // said when the page has it: a sender begins with the name
  const save = useAct(setup.workspace, { shown: true });
  const [error, setError] = useState<unknown>();
  const body = bodyOf(data.workspace);
  const form = useContractForm(
    WorkspaceBody,
    fresh
      ? {
          ...body,
          name: body.name === 'Our workspace' ? '' : body.name,
          // what the browser knows of the place
          zone: Intl.DateTimeFormat().resolvedOptions().timeZone || body.zone,
          opt_out_wording: { ...OPT_OUT, ...body.opt_out_wording },
        }
      : body,
    { words: { name: 'As people know you.' }, guards: false },
  );
  const submit = useSubmit(
    form,
    async (next) => {
      // wordings of languages that nobody writes in are not kept
      const wording = Object.entries(next.opt_out_wording).filter(([language]) => next.languages.includes(language));
      await save({ body: { ...next, opt_out_wording: Object.fromEntries(wording) } });
      say('The workspace is set up.');
    },
    setError,
  );
  return (
    <Form noValidate gap={14} onSubmit={(event) => void submit(event)}>
      <PlaceFields form={form} fixedMoney={!data.can_change_money} />
      <QuietFields form={form} />
      <OptOutFields form={form} />
      <TextFields form={form} />
      <Trouble error={error} />
      <Row>
        <Button type="submit" variant="contained" size="medium" disabled={form.formState.isSubmitting}>
          Save the workspace
        </Button>
      </Row>
    </Form>
  );
}

/** The next act, once everything is there. */
function First({ ready, practice }: { ready: boolean; practice: boolean }) {
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const { work, busy, error } = useWork();
  return (
    <Part aria-label="Then">
      <h2>Then</h2>
      <Words soft pad="4px 0 10px">
        {practice
          ? 'Write a first text to a number of your own: it arrives on the practice phones, and nothing leaves.'
          : 'Write a first text to a number of your own, to see how it arrives.'}{' '}
        Or bring in the people you want to write to.
      </Words>
      <Row>
        <Button
          variant={ready ? 'contained' : 'outlined'}
          disabled={busy}
          onClick={() =>
            void work(async () => {
              const { id } = await make({ body: { name: '' } });
              await navigate(`/broadcasts/${id}`);
            })
          }
        >
          Write a first text
        </Button>
        <Button component={Link} to="/people/bring-in">
          Bring in people
        </Button>
      </Row>
      <Trouble error={error} />
    </Part>
  );
}
