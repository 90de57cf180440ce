import { Autocomplete, Button, TextField } from '@mui/material';
import { useState, type FormEvent, type ReactNode } from 'react';
import { templates, type PreparedKind } from '../../core/api/sending/templates';
import type { LinkSpec } from '../../core/plan/draft/links';
import { useAct, useGet } from '../api/client';
import { useWork } from '../api/work';
import { Choose } from '../pieces/form/choices';
import { Column, Row } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';

/** Keeps words under a name, as a template in a folder or as a piece. */
export function KeepWords({
  words,
  links,
  kept,
}: {
  /** By language. */
  words: Record<string, string>;
  links: LinkSpec[];
  kept: (text: { id: number; kind: PreparedKind }) => void;
}): ReactNode {
  const say = useSay();
  const make = useAct(templates.make);
  const { work, busy, error } = useWork();
  const [kind, setKind] = useState<PreparedKind>('template');
  const [name, setName] = useState('');
  const [folder, setFolder] = useState('');
  const keep = (event: FormEvent) => {
    event.preventDefault();
    void work(async () => {
      const { id } = await make({ body: { kind, name, folder, words, links } });
      say(`“${name.trim()}” is kept.`);
      kept({ id, kind });
    });
  };
  return (
    <Column as="form" gap={10} line above={10} onSubmit={keep}>
      <Row small>
        Save these words as
        <Choose
          label="Keep them as"
          value={kind}
          options={[
            ['template', 'a template'],
            ['piece', 'a saved piece'],
          ]}
          onChange={setKind}
        />
      </Row>
      <Row nowrap starts>
        <TextField label="Name" autoFocus value={name} onChange={(event) => setName(event.target.value.slice(0, 80))} />
        {kind === 'template' && <FolderField folder={folder} change={setFolder} />}
      </Row>
      <Trouble error={error} />
      <Row>
        <Button type="submit" variant="contained" disabled={busy || name.trim() === ''}>
          Keep them
        </Button>
      </Row>
    </Column>
  );
}

/** The folder of a template: one that is there, or a new one that is typed. */
export function FolderField({ folder, change }: { folder: string; change: (folder: string) => void }): ReactNode {
  const folders = useGet(templates.folders, {}, { keep: true }).data?.folders ?? [];
  return (
    <Autocomplete
      freeSolo
      fullWidth
      options={folders}
      inputValue={folder}
      onInputChange={(_event, typed) => change(typed.slice(0, 60))}
      renderInput={(params) => <TextField {...params} label="Folder" placeholder="none" />}
    />
  );
}
