import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import { ROLES, type Role } from '../../core/api/roles';
import { accounts, setup, type AccountRow, type SetupAnswer } from '../../core/api/setup';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Choose } from '../pieces/form/choices';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { Bit, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { Sure } from '../pieces/Sure';
import { Way } from '../pieces/ways';
import { Sides } from '../pieces/Sides';
import { TestersPart } from './TestersPart';

const MAY: Record<Role, string> = {
  look: 'looks',
  write: 'writes, and sends tests to their own number',
  send: 'sends',
  manage: 'manages everything',
};
const ROLE_OPTIONS = ROLES.map((role) => [role, role] as const);

/** Who works here, what they may do, and one-time links for those who come. */
export default function TeamPart({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const { account } = useDesk();
  const say = useSay();
  const change = useAct(accounts.change);
  const remove = useAct(accounts.remove);
  const reset = useAct(accounts.reset);
  const { work, busy, error } = useWork();
  const [link, setLink] = useState<{ path: string; words: string }>();
  const [role, setRole] = useState<Role>('write');
  const [going, setGoing] = useState<AccountRow>();
  const columns: Column<AccountRow>[] = [
    {
      key: 'name',
      heading: 'Name',
      cell: (each) => (
        <>
          {each.name} {each.id === account.id && <Bit soft>you</Bit>}
        </>
      ),
    },
    { key: 'email', heading: 'Address', cell: (each) => <Bit soft>{each.email}</Bit> },
    {
      key: 'role',
      heading: 'May',
      cell: (each) =>
        manage ? (
          <Choose
            label={`What ${each.name} may do`}
            value={each.role}
            options={ROLE_OPTIONS}
            onChange={(next) =>
              void work(async () => {
                await change({ params: { id: each.id }, body: { role: next } });
                say(`${each.name} ${MAY[next]}.`);
              })
            }
          />
        ) : (
          each.role
        ),
    },
    {
      key: 'sessions',
      heading: 'Signed in',
      num: true,
      cell: (each) => (each.sessions === 0 ? <Bit soft>no</Bit> : each.sessions === 1 ? 'once' : `${each.sessions} times`),
    },
    {
      key: 'acts',
      heading: '',
      said: 'Acts',
      num: true,
      nobreak: true,
      cell: (each) =>
        manage &&
        each.id !== account.id && (
          <Row gap={12} nowrap>
            <Way
              small
              onClick={() =>
                void work(async () => {
                  const { path } = await reset({ params: { id: each.id } });
                  setLink({ path, words: `Give ${each.name} this link to choose a new password; it works once, within a day:` });
                })
              }
            >
              new password
            </Way>
            <Way small brick onClick={() => setGoing(each)}>
              remove
            </Way>
          </Row>
        ),
    },
  ];
  return (
    <Sides beside={<TestersPart manage={manage} />}>
      <h2>Team</h2>
      <DataTable label="Accounts" columns={columns} rows={data.accounts} idOf={(each) => each.id} />
      <Trouble error={error} />
      {manage && <Inviting role={role} setRole={setRole} busy={busy} work={work} setLink={setLink} />}
      {link && <LinkTold link={link} />}
      {going && (
        <Sure
          title={`Remove ${going.name}?`}
          act={`Remove ${going.name}`}
          leave={() => setGoing(undefined)}
          confirm={() =>
            void work(async () => {
              await remove({ params: { id: going.id } });
              say(`${going.name} is removed.`);
            })
          }
        >
          Their sessions end at once. What they did stays in the record, with their name. Broadcasts that they scheduled still go.
        </Sure>
      )}
    </Sides>
  );
}

/** A link for somebody new. */
function Inviting({
  role,
  setRole,
  busy,
  work,
  setLink,
}: {
  role: Role;
  setRole: (role: Role) => void;
  busy: boolean;
  work: (what: () => Promise<unknown>) => Promise<boolean>;
  setLink: (link: { path: string; words: string }) => void;
}) {
  const invite = useAct(setup.invite);
  return (
    <Row above={12}>
      <span>
        Invite someone who may <Choose label="What they may do" value={role} options={ROLE_OPTIONS} onChange={setRole} />
      </span>
      <Button
        disabled={busy}
        onClick={() =>
          void work(async () => {
            const { path } = await invite({ body: { role } });
            setLink({ path, words: 'Give them this link; it works once, within a week:' });
          })
        }
      >
        Make a link
      </Button>
    </Row>
  );
}

/** A link that was made, shown once. */
function LinkTold({ link }: { link: { path: string; words: string } }) {
  const say = useSay();
  return (
    <Words above={10} most={640}>
      <Words small below={4}>
        {link.words}
      </Words>
      <Row nowrap>
        <TextField
          hiddenLabel
          value={`${window.location.origin}${link.path}`}
          slotProps={{ htmlInput: { 'aria-label': 'One-time link', readOnly: true } }}
          onFocus={(event) => event.target.select()}
        />
        <Button
          onClick={() =>
            void navigator.clipboard
              .writeText(`${window.location.origin}${link.path}`)
              .then(() => say('The link is copied.'))
              .catch(() => say('It could not be copied; it stands in the field.'))
          }
        >
          Copy
        </Button>
      </Row>
    </Words>
  );
}
