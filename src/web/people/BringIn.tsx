import { Button } from '@mui/material';
import { useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { upload, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { count, when } from '../pieces/format';
import { Trouble, useNow, useTitle } from '../pieces/small';

interface Past {
  id: number;
  file_name: string;
  state: string;
  counts: { new?: number; changed?: number; rejected?: number };
  row_count: number;
  list: string | null;
  created_at: string;
  by: string | null;
  failure: string | null;
  can_undo: boolean;
}

const STATE_WORDS: Record<string, string> = {
  reading: 'being read',
  writing: 'being written',
  failed: 'could not be read',
  given_up: 'given up',
  undoing: 'being undone',
  undone: 'undone',
  once: 'used for one broadcast',
};

/** Where a file or pasted text comes in; past imports beneath. */
export default function BringIn() {
  useTitle('Bringing in people');
  const navigate = useNavigate();
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const chooser = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const [busy, setBusy] = useState<string>();
  const [error, setError] = useState<unknown>();
  const past = useGet<{ imports: Past[] }>('/api/imports').data?.imports ?? [];
  const take = async (path: string, body: Blob, what: string) => {
    setError(undefined);
    setBusy(`Reading ${what}…`);
    try {
      const { id } = await upload<{ id: number }>(path, body);
      await navigate(`/people/bring-in/${id}`);
    } catch (refused) {
      setError(refused);
      setBusy(undefined);
    }
  };
  const file = (chosen: File | undefined) =>
    chosen && void take(`/api/imports/file?name=${encodeURIComponent(chosen.name)}`, chosen, chosen.name);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    file(event.dataTransfer.files[0]);
  };
  return (
    <>
      <div className="head">
        <h1>Bringing in people</h1>
        <span className="soft">Nothing is written until you say so.</span>
      </div>
      <div className="panes">
        <section className="pane grow" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
          <div className="row base" style={{ gap: 14 }}>
            <Button variant="contained" size="medium" onClick={() => chooser.current?.click()} disabled={busy !== undefined}>
              Choose a file
            </Button>
            <span className="soft">
              CSV, workbook (XLSX, ODS) or vCard, up to 200 MB, as it is. Damaged cells are found and shown before anything
              happens. Or drop it here.
            </span>
          </div>
          <input
            ref={chooser}
            type="file"
            accept=".csv,.tsv,.txt,.xlsx,.xlsm,.ods,.vcf,.vcard"
            hidden
            aria-label="File with people"
            onChange={(event) => file(event.target.files?.[0])}
          />
          <p className="small" style={{ marginTop: 10 }}>
            No file yet? Start from{' '}
            <a href="/api/imports/starter.xlsx" download>
              a workbook
            </a>{' '}
            or{' '}
            <a href="/api/imports/starter.csv" download>
              a CSV
            </a>{' '}
            with our headings.
          </p>
          <h2 style={{ margin: '22px 0 8px' }}>Or paste</h2>
          <label className="stack">
            <span className="soft small">Rows copied from a sheet, or just numbers: one a line, or separated by commas.</span>
            <textarea className="field" rows={8} value={text} onChange={(event) => setText(event.target.value)} />
          </label>
          <div className="row" style={{ margin: '8px 0' }}>
            <Button
              disabled={text.trim() === '' || busy !== undefined}
              onClick={() => void take('/api/imports/text', new Blob([text]), 'what you pasted')}
            >
              Read what I pasted
            </Button>
            <span role="status" className="soft">
              {busy}
            </span>
          </div>
          <Trouble error={error} />
        </section>
        <section className="pane" style={{ width: 480 }}>
          <h2>Past imports</h2>
          {past.length === 0 && (
            <p className="soft" style={{ marginTop: 8 }}>
              None yet.
            </p>
          )}
          <ul>
            {past.map((each) => (
              <li key={each.id} className="line-b" style={{ padding: '8px 0' }}>
                <div className="row between base">
                  <Link to={`/people/bring-in/${each.id}`}>{each.file_name}</Link>
                  <span className="soft small">{when(each.created_at, workspace.zone, now)}</span>
                </div>
                <span className="soft small">
                  {each.state === 'done'
                    ? `${count(each.counts.new ?? 0)} new, ${count(each.counts.changed ?? 0)} changed, ${count(each.counts.rejected ?? 0)} rejected`
                    : each.state === 'open'
                      ? 'on the bench, nothing written'
                      : (STATE_WORDS[each.state] ?? each.state)}
                  {each.failure ? `: ${each.failure}` : ''}
                  {each.can_undo ? ', can be undone' : ''}
                  {each.list ? ` · ${each.list}` : ''}
                  {each.by ? ` · ${each.by}` : ''}
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </>
  );
}
