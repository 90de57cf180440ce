import { Button, TextField } from '@mui/material';
import { useState, type DragEvent } from 'react';
import { useNavigate } from 'react-router';
import { ForBroadcast, useForBroadcast } from './for-broadcast';
import { imports } from '../../../core/api/people/imports';
import { fileAt, handOver, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { count, when } from '../../pieces/format';
import { Trouble, useNow, useTitle } from '../../pieces/small';
import { FileButton } from '../../pieces/form/FileButton';
import { Bit, Head, Pane, Panes, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';

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
  const goal = useForBroadcast();
  const [text, setText] = useState('');
  const [busy, setBusy] = useState<string>();
  // where it was asked for is where it is said that it could not be
  const [failed, setFailed] = useState<{ file: boolean; error: unknown }>();
  const take = async (what: string, isFile: boolean, begin: () => Promise<{ id: number }>) => {
    setFailed(undefined);
    setBusy(`Reading ${what}…`);
    try {
      const { id } = await begin();
      await navigate(`/people/bring-in/${id}${goal.search}`);
    } catch (refused) {
      setFailed({ file: isFile, error: refused });
      setBusy(undefined);
    }
  };
  const file = (chosen: File | undefined) =>
    chosen && void take(chosen.name, true, () => handOver(imports.file, { query: { name: chosen.name } }, chosen));
  const drop = (event: DragEvent) => {
    event.preventDefault();
    file(event.dataTransfer.files[0]);
  };
  return (
    <>
      <Head>
        <h1>Bringing in people</h1>
        <Bit soft>Nothing is written until you say so.</Bit>
        <ForBroadcast goal={goal} />
      </Head>
      <Panes columns="minmax(0, 1fr) 480px">
        <Pane as="section" grow onDragOver={(event) => event.preventDefault()} onDrop={drop}>
          <Row base gap={14}>
            <FileButton
              variant="contained"
              size="medium"
              label="File with people"
              accept=".csv,.tsv,.txt,.xlsx,.xlsm,.ods,.vcf,.vcard"
              chosen={file}
              disabled={busy !== undefined}
            >
              Choose a file
            </FileButton>
            <Bit soft>
              CSV, workbook (XLSX, ODS) or vCard, up to 200 MB, as it is. Damaged cells are found and shown before anything
              happens. Or drop it here.
            </Bit>
          </Row>
          {failed?.file && <Trouble error={failed.error} />}
          <Words as="p" small above={10}>
            No file yet? Start from{' '}
            <Way href={fileAt(imports.starterXlsx, {})} download>
              a workbook
            </Way>{' '}
            or{' '}
            <Way href={fileAt(imports.starterCsv, {})} download>
              a CSV
            </Way>{' '}
            with our headings.
          </Words>
          <Words as="h2" pad="22px 0 8px">
            Or paste
          </Words>
          <Words soft small below={8}>
            Rows copied from a sheet, or just numbers: one a line, or separated by commas.
          </Words>
          <TextField
            multiline
            rows={8}
            hiddenLabel
            value={text}
            onChange={(event) => setText(event.target.value)}
            slotProps={{ htmlInput: { 'aria-label': 'Rows or numbers' } }}
          />
          <Row pad="8px 0">
            <Button
              disabled={text.trim() === '' || busy !== undefined}
              onClick={() => void take('what you pasted', false, () => handOver(imports.text, {}, new Blob([text])))}
            >
              Read what I pasted
            </Button>
            <Bit soft role="status">
              {busy}
            </Bit>
          </Row>
          {failed?.file === false && <Trouble error={failed.error} />}
        </Pane>
        <Before />
      </Panes>
    </>
  );
}

/** What was brought in before. */
function Before() {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const past = useGet(imports.list, {});
  const listed = past.data?.imports ?? [];
  return (
    <Pane as="section">
      <h2>Past imports</h2>
      {past.data && listed.length === 0 && (
        <Words as="p" soft above={8}>
          None yet. What was brought in stands here, and can be undone for thirty days.
        </Words>
      )}
      <Trouble error={past.error} />
      <ul>
        {listed.map((each) => (
          <Words as="li" under pad="8px 0" key={each.id}>
            <Row between base>
              <Way to={`/people/bring-in/${each.id}`}>{each.file_name}</Way>
              <Bit soft small>
                {when(each.created_at, workspace.zone, now)}
              </Bit>
            </Row>
            <Bit soft small>
              {each.state === 'done'
                ? `${count(each.counts.new ?? 0)} new, ${count(each.counts.changed ?? 0)} changed, ${count(each.counts.rejected ?? 0)} rejected`
                : each.state === 'open'
                  ? 'on the bench, nothing written'
                  : (STATE_WORDS[each.state] ?? each.state)}
              {each.failure ? `: ${each.failure}` : ''}
              {each.can_undo ? ', can be undone' : ''}
              {each.list ? ` · ${each.list}` : ''}
              {each.by ? ` · ${each.by}` : ''}
            </Bit>
          </Words>
        ))}
      </ul>
    </Pane>
  );
}
