import { Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useWatch, type FieldPath } from 'react-hook-form';
import { setup, WorkspaceBody, type SetupAnswer } from '../../core/api/setup';
import { useAct } from '../api/client';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { languageName } from '../pieces/format';
import { Bit, Form, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { OPT_OUT } from './workspace-fields';
import { bodyOf, Keeping } from './WorkspacePart';

interface Wording {
  name: string;
  says: string;
  /** Where it stands for a language; `first` for the workspace's first. */
  at: (language: string, first: boolean) => FieldPath<WorkspaceBody>;
  most: number;
  placeholder?: (language: string) => string | undefined;
}

const WORDINGS: readonly Wording[] = [
  {
    name: 'How to opt out',
    says: 'Stands at the end of a text.',
    at: (language) => `opt_out_wording.${language}`,
    most: 120,
    placeholder: (language) => OPT_OUT[language],
  },
  {
    name: 'Before a link to opt out',
    says: 'Where a text has a link for it instead.',
    at: (language) => `opt_out_link_wording.${language}`,
    most: 120,
  },
  {
    name: 'Answer to HELP',
    says: 'Who this is and how to stop; sent to whoever texts HELP. Left empty, the first language is read.',
    at: (language, first) => (first ? 'help_wording' : `help_wordings.${language}`),
    most: 1000,
  },
];

const Wide = styled(Table, { shouldForwardProp: (name) => name !== 'columns' })<{ columns: number }>(({ columns }) => ({
  minWidth: 190 + columns * 230,
}));
/** The heading of its column and of its row say what a field is to whoever sees it: its label is only heard. */
const Cell = styled(TableCell)({
  '& .MuiInputLabel-root': { clipPath: 'inset(50%)' },
  '& legend': { display: 'none' },
  '& fieldset': { top: 0 },
});

/** What is said in texts by itself: a row for each wording, a column for each language. */
export default function WordingsPart({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const say = useSay();
  const save = useAct(setup.workspace);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(WorkspaceBody, bodyOf(data.workspace));
  const submit = useSubmit(
    form,
    async (body) => {
      await save({ body });
      say('The wordings are saved: texts that are agreed already stay as they were shown.');
    },
    setError,
  );
  const languages = useWatch({ control: form.control, name: 'languages' });
  return (
    <Form noValidate gap={14} onSubmit={(event) => void submit(event)}>
      <h2>Wordings</h2>
      <Words tabIndex={0} role="region" aria-label="Wordings by language" scrolls>
        <Wide size="small" columns={languages.length}>
          <TableHead>
            <TableRow>
              <TableCell width={200}>Wording</TableCell>
              {languages.map((language, i) => (
                <TableCell key={language} scope="col">
                  {languageName(language)}
                  {i === 0 && languages.length > 1 && ', the first'}
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {WORDINGS.map((wording) => (
              <TableRow key={wording.name}>
                <TableCell component="th" scope="row">
                  <b>{wording.name}</b>
                  <Words small soft>
                    {wording.says}
                  </Words>
                </TableCell>
                {languages.map((language, i) => (
                  <Cell key={language}>
                    <FormText
                      control={form.control}
                      name={wording.at(language, i === 0)}
                      label={`${wording.name}, ${languageName(language)}`}
                      disabled={!manage}
                      multiline
                      minRows={2}
                      input={{ maxLength: wording.most }}
                      placeholder={wording.placeholder?.(language)}
                    />
                  </Cell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Wide>
      </Words>
      <Words most={420}>
        <FormText
          control={form.control}
          name="emergency_line"
          label="Emergency line, if any"
          disabled={!manage}
          helperText="Named in the answer to HELP."
        />
      </Words>
      <Bit soft small>
        Languages are chosen under Workspace. A broadcast can have its own wording for opting out.
      </Bit>
      <Trouble error={error} />
      {manage && <Keeping form={form} />}
    </Form>
  );
}
