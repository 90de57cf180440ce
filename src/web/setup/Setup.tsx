import { Button, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { mayDo } from '../../core/api/roles';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { money, when } from '../pieces/format';
import { State } from '../pieces/Ring';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { Fields } from './Fields';
import type { FieldDef } from '../people/sources';

interface Workspace {
  name: string;
  zone: string;
  quiet_from: string;
  quiet_to: string;
  late_limit_minutes: number;
  opt_out_wording: Record<string, string>;
  help_wording: string;
  emergency_line: string;
  languages: string[];
  currency: string;
}
interface SetupAnswer {
  workspace: Workspace;
  senders: { id: number; name: string; kind: string; address: string; parts_per_second: number }[];
  rates: { prefix: string; destination: string; price_micro: number }[];
  accounts: { id: number; name: string; email: string; role: string }[];
  entries: { id: number; at: string; kind: string; amount_micro: number; what: string | null }[];
  record: { id: number; at: string; act: string; subject: string; by: string | null }[];
  fields: FieldDef[];
  balance_micro: number;
  carrier: { state: string; why: string; practice: boolean; host: string; port: number };
}
const KINDS: Record<string, string> = { long: 'long number', short: 'short code', name: 'name, no replies' };

/** Senders, rate card, carrier, quiet hours, opt-out wording, fields, team, money and the record. */
export default function Setup() {
  useTitle('Setup');
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const client = useQueryClient();
  const answer = useGet<SetupAnswer>('/api/setup', { keep: true });
  const [form, setForm] = useState<Workspace>();
  const [error, setError] = useState<{ where: string; what: unknown }>();
  const [sender, setSender] = useState({ name: '', kind: 'long', address: '' });
  const [rate, setRate] = useState({ prefix: '+', destination: '', price: '' });
  const [amount, setAmount] = useState('');
  const [link, setLink] = useState('');
  if (answer.error && !answer.data)
    return (
      <div className="pane">
        <Trouble error={answer.error} />
      </div>
    );
  if (!answer.data) return <Waiting what="Opening the setup…" />;
  const data = answer.data;
  const w = form ?? data.workspace;
  const manage = mayDo(account.role, 'manage');
  const act = async (where: string, work: () => Promise<unknown>) => {
    setError(undefined);
    try {
      await work();
      await client.invalidateQueries();
    } catch (what) {
      setError({ where, what });
    }
  };
  const wrong = (where: string) => (error?.where === where ? <Trouble error={error.what} /> : null);
  const text = (
    name: 'name' | 'zone' | 'quiet_from' | 'quiet_to' | 'help_wording' | 'emergency_line',
    label: string,
    type = 'text',
  ) => (
    <TextField
      label={label}
      type={type}
      value={w[name]}
      disabled={!manage}
      slotProps={{ inputLabel: { shrink: true } }}
      onChange={(event) => setForm({ ...w, [name]: event.target.value })}
    />
  );
  return (
    <>
      <div className="head">
        <h1>Setup</h1>
        {!manage && <span className="soft">Your role is “{account.role}”: you may look.</span>}
      </div>
      <div className="panes">
        <section className="pane grow" aria-label="Workspace and senders">
          <h2>Workspace</h2>
          <div className="stack" style={{ gap: 12, padding: '12px 0', maxWidth: 560 }}>
            {text('name', 'Name')}
            {text('zone', 'Time zone')}
            <div className="row nowrap">
              {text('quiet_from', 'Quiet hours from', 'time')}
              {text('quiet_to', 'until', 'time')}
            </div>
            {w.languages.map((language) => (
              <TextField
                key={language}
                label={`Opt-out wording, ${language}`}
                value={w.opt_out_wording[language] ?? ''}
                disabled={!manage}
                onChange={(event) => setForm({ ...w, opt_out_wording: { ...w.opt_out_wording, [language]: event.target.value } })}
              />
            ))}
            {text('help_wording', 'Answer to HELP')}
            {text('emergency_line', 'Emergency line, if any')}
            {wrong('workspace')}
            {manage && (
              <div>
                <Button
                  variant="contained"
                  disabled={!form}
                  onClick={() =>
                    void act('workspace', async () => {
                      await send('PUT', '/api/setup/workspace', {
                        name: w.name,
                        zone: w.zone,
                        quiet_from: w.quiet_from,
                        quiet_to: w.quiet_to,
                        late_limit_minutes: w.late_limit_minutes,
                        opt_out_wording: w.opt_out_wording,
                        help_wording: w.help_wording,
                        emergency_line: w.emergency_line,
                      });
                      setForm(undefined);
                    })
                  }
                >
                  Save the settings
                </Button>
              </div>
            )}
          </div>
          <h2 className="line" style={{ paddingTop: 12 }}>
            Senders
          </h2>
          <table>
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">Kind</th>
                <th scope="col">Address</th>
                <th scope="col" className="num">
                  Parts a second
                </th>
              </tr>
            </thead>
            <tbody>
              {data.senders.map((each) => (
                <tr key={each.id}>
                  <td>{each.name}</td>
                  <td>{KINDS[each.kind]}</td>
                  <td>{each.address}</td>
                  <td className="num">{each.parts_per_second}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {manage && (
            <form
              className="row"
              style={{ padding: '8px 0' }}
              onSubmit={(event) => (
                event.preventDefault(),
                void act('sender', async () => {
                  await send('POST', '/api/setup/senders', { ...sender, parts_per_second: sender.kind === 'long' ? 1 : 20 });
                  setSender({ name: '', kind: 'long', address: '' });
                })
              )}
            >
              <input
                className="field"
                aria-label="Name of the sender"
                placeholder="name"
                value={sender.name}
                onChange={(event) => setSender({ ...sender, name: event.target.value })}
              />
              <select
                className="field"
                aria-label="Kind of sender"
                value={sender.kind}
                onChange={(event) => setSender({ ...sender, kind: event.target.value })}
              >
                {Object.entries(KINDS).map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </select>
              <input
                className="field"
                aria-label="Address of the sender"
                placeholder={sender.kind === 'long' ? '+1…' : sender.kind === 'short' ? '72345' : 'up to 11 characters'}
                value={sender.address}
                onChange={(event) => setSender({ ...sender, address: event.target.value })}
              />
              <Button type="submit" disabled={sender.name === '' || sender.address === ''}>
                Add a sender
              </Button>
            </form>
          )}
          {wrong('sender')}
          <h2 className="line" style={{ paddingTop: 12 }}>
            Rate card
          </h2>
          <table>
            <thead>
              <tr>
                <th scope="col">Prefix</th>
                <th scope="col">Destination</th>
                <th scope="col" className="num">
                  A part costs
                </th>
              </tr>
            </thead>
            <tbody>
              {data.rates.map((each) => (
                <tr key={each.prefix}>
                  <td>{each.prefix}</td>
                  <td>{each.destination}</td>
                  <td className="num">{money(each.price_micro, w.currency)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {manage && (
            <form
              className="row"
              style={{ padding: '8px 0' }}
              onSubmit={(event) => (
                event.preventDefault(),
                void act('rate', async () => {
                  await send('PUT', '/api/setup/rates', {
                    prefix: rate.prefix,
                    destination: rate.destination,
                    price_micro: Math.round(Number(rate.price) * 1_000_000),
                  });
                  setRate({ prefix: '+', destination: '', price: '' });
                })
              )}
            >
              <input
                className="field"
                aria-label="Prefix"
                value={rate.prefix}
                onChange={(event) => setRate({ ...rate, prefix: event.target.value })}
                style={{ width: 80 }}
              />
              <input
                className="field"
                aria-label="Destination"
                placeholder="destination"
                value={rate.destination}
                onChange={(event) => setRate({ ...rate, destination: event.target.value })}
              />
              <input
                className="field"
                aria-label="Price of a part"
                type="number"
                step="0.0001"
                min="0"
                placeholder="0.0075"
                value={rate.price}
                onChange={(event) => setRate({ ...rate, price: event.target.value })}
                style={{ width: 110 }}
              />
              <Button type="submit" disabled={rate.destination === '' || rate.price === ''}>
                Set a rate
              </Button>
            </form>
          )}
          {wrong('rate')}
          <h2 className="line" style={{ paddingTop: 12 }}>
            Fields
          </h2>
          <Fields fields={data.fields} may={mayDo(account.role, 'write')} manage={manage} />
        </section>
        <section className="pane card" style={{ width: 430 }} aria-label="Carrier, money, team, record">
          <h2>Carrier</h2>
          <p style={{ padding: '6px 0 12px' }}>
            <State
              state={data.carrier.state === 'connected' ? 'yes' : 'uncertain'}
              words={data.carrier.state === 'connected' ? 'connected' : `connecting: ${data.carrier.why}`}
            />{' '}
            <span className="soft">
              {data.carrier.practice ? 'the practice carrier; nothing leaves' : `${data.carrier.host}:${data.carrier.port}`}
            </span>
          </p>
          <div className="row between base line" style={{ paddingTop: 10 }}>
            <h2>Balance</h2>
            <span className="fig mid">{money(data.balance_micro, w.currency)}</span>
          </div>
          {manage && (
            <form
              className="row nowrap"
              style={{ padding: '6px 0' }}
              onSubmit={(event) => (
                event.preventDefault(),
                void act('money', async () => {
                  await send('POST', '/api/setup/balance', { amount_micro: Math.round(Number(amount) * 1_000_000) });
                  setAmount('');
                })
              )}
            >
              <input
                className="field"
                type="number"
                min="1"
                step="1"
                aria-label="Amount to add"
                placeholder="amount"
                value={amount}
                onChange={(event) => setAmount(event.target.value)}
                style={{ width: 110 }}
              />
              <Button type="submit" disabled={Number(amount) <= 0}>
                Add to the balance
              </Button>
            </form>
          )}
          {wrong('money')}
          <table>
            <tbody>
              {data.entries.slice(0, 8).map((each) => (
                <tr key={each.id}>
                  <td className="soft small" style={{ whiteSpace: 'nowrap' }}>
                    {when(each.at, workspace.zone, now)}
                  </td>
                  <td>
                    {each.kind.replace('_', ' ')} <span className="soft">{each.what}</span>
                  </td>
                  <td className="num">{money(each.amount_micro, w.currency)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <h2 style={{ padding: '14px 0 4px' }}>Team</h2>
          <table>
            <tbody>
              {data.accounts.map((each) => (
                <tr key={each.id}>
                  <td>{each.name}</td>
                  <td className="soft">{each.email}</td>
                  <td className="num">{each.role}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {manage && (
            <div className="row" style={{ padding: '8px 0' }}>
              {(['write', 'send'] as const).map((role) => (
                <Button
                  key={role}
                  onClick={() =>
                    void act('team', async () => {
                      const made = await send<{ path: string }>('POST', '/api/setup/invitations', { role });
                      setLink(`${window.location.origin}${made.path}`);
                    })
                  }
                >
                  Invite someone who may {role}
                </Button>
              ))}
            </div>
          )}
          {link && (
            <p className="small">
              Give them this link; it works once, within a week: <code style={{ overflowWrap: 'anywhere' }}>{link}</code>
            </p>
          )}
          {wrong('team')}
          <h2 style={{ padding: '14px 0 4px' }}>The record</h2>
          <ul className="small">
            {data.record.map((each) => (
              <li key={each.id} className="line-b" style={{ padding: '4px 0' }}>
                <span className="soft">{when(each.at, workspace.zone, now)}</span> {each.by ?? 'the server'} {each.act}{' '}
                {each.subject}
              </li>
            ))}
          </ul>
        </section>
      </div>
    </>
  );
}
