import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import type { Static } from 'typebox';
import { fields as fieldsApi, type FieldDef } from '../../core/api/people/groups';
import { useAct } from '../api/client';
import { useWork } from '../api/work';
import { Choose } from '../pieces/form/choices';
import { Field } from '../pieces/form/Field';
import { Bit, Column, Row, Words } from '../pieces/layout';
import { Ordered, useOrdered } from '../pieces/table/Ordered';
import { useSay } from '../pieces/Said';
import { Sides } from '../pieces/Sides';
import { Nothing, Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';

type Def = Static<typeof FieldDef>;
const TYPES = [
  ['text', 'text'],
  ['number', 'number'],
  ['date', 'date'],
  ['choice', 'choice'],
  ['yes_no', 'yes/no'],
] as const;
const listed = (text: string) => [...new Set(text.split(/\s*,\s*/).filter((each) => each !== ''))];

/** Custom fields of people and of dependants: each is at once a merge field and a condition. Dragged into their order. */
export default function FieldsPart({ fields, may, manage }: { fields: readonly Def[]; may: boolean; manage: boolean }) {
  const { work, error } = useWork();
  const order = useAct(fieldsApi.order);
  const [moved, setMoved] = useState<{ about: string; slugs: string[] }>();
  const of = (about: 'person' | 'dependant') => {
    const those = fields.filter((field) => field.about === about);
    if (moved?.about !== about) return those;
    return moved.slugs.flatMap((slug) => those.filter((field) => field.slug === slug));
  };
  const part = (about: 'person' | 'dependant', title: string) => {
    const those = of(about);
    const slugs = those.map((field) => field.slug);
    const arrange = (next: string[]) => {
      // it stands there at once, and goes back when it could not be kept
      setMoved({ about, slugs: next });
      void work(() => order({ params: { about }, body: { slugs: next } })).then((done) => done || setMoved(undefined));
    };
    return (
      <>
        <Words as="h3" pad="14px 0 4px">
          {title}
        </Words>
        {those.length === 0 ? (
          <Words soft small>
            None yet.
          </Words>
        ) : (
          <Ordered ids={slugs} arrange={arrange}>
            <Words as="ul" line>
              {those.map((field) => (
                <Line key={field.slug} field={field} may={may} manage={manage} />
              ))}
            </Words>
          </Ordered>
        )}
      </>
    );
  };
  return (
    <Sides beside={may && <NewField />}>
      <h2>Fields</h2>
      {fields.length === 0 && (
        <Nothing title="No fields yet">
          What you know of people beside their name and number: a landing, the end of a pass. A field can be put into a text, and
          segments go by it. Bringing in a file makes them too.
        </Nothing>
      )}
      {fields.length > 0 && part('person', 'Of people')}
      {fields.length > 0 && part('dependant', 'Of those they are written to about')}
      <Trouble error={error} />
    </Sides>
  );
}

const Item = styled('li')(({ theme }) => ({
  display: 'flex',
  gap: 10,
  alignItems: 'center',
  padding: '6px 0',
  borderBottom: `1px solid ${theme.bell.hairline}`,
  background: theme.bell.ground,
  [theme.breakpoints.down('md')]: { flexWrap: 'wrap' },
}));

function Line({ field, may, manage }: { field: Def; may: boolean; manage: boolean }) {
  const say = useSay();
  const change = useAct(fieldsApi.change);
  const remove = useAct(fieldsApi.remove);
  const { work, busy, error } = useWork();
  const [edited, setEdited] = useState<{ label: string; choices: string }>();
  const { placed, grip } = useOrdered(field.slug, field.label);
  const params = { about: field.about, slug: field.slug };
  return (
    <Item {...placed}>
      {may && grip}
      {edited ? (
        <Row grow>
          <Row width={180}>
            <Field label="Label" value={edited.label} onChange={(label) => setEdited({ ...edited, label })} />
          </Row>
          {field.type === 'choice' && (
            <Row width={260}>
              <Field
                label="Choices"
                placeholder="choices, separated by commas"
                value={edited.choices}
                onChange={(choices) => setEdited({ ...edited, choices })}
              />
            </Row>
          )}
          <Button
            variant="contained"
            disabled={busy || edited.label.trim() === ''}
            onClick={() =>
              void work(async () => {
                await change({ params, body: { label: edited.label, choices: listed(edited.choices) } });
                setEdited(undefined);
                say(`${edited.label} is changed.`);
              })
            }
          >
            Save
          </Button>
          <Button onClick={() => setEdited(undefined)}>Leave it</Button>
          {manage && (
            <Way
              brick
              onClick={() =>
                void work(async () => {
                  await remove({ params });
                  say(`${field.label} is deleted; what people have in it stays with them until they are edited.`);
                })
              }
            >
              delete
            </Way>
          )}
          <Trouble error={error} />
        </Row>
      ) : (
        <>
          <Bit width={190} fixed>
            {field.label}
          </Bit>
          <Bit soft width={230} fixed cut>{`{${field.about === 'dependant' ? 'dependants.' : ''}${field.slug}}`}</Bit>
          <Bit grow>
            {TYPES.find(([type]) => type === field.type)?.[1]}
            {field.choices.length > 0 && <Bit soft>: {field.choices.join(', ')}</Bit>}
          </Bit>
          {may && (
            <Way
              small
              aria-label={`Change the field ${field.label}`}
              onClick={() => setEdited({ label: field.label, choices: field.choices.join(', ') })}
            >
              change
            </Way>
          )}
        </>
      )}
    </Item>
  );
}

function NewField() {
  const say = useSay();
  const make = useAct(fieldsApi.make);
  const { work, busy, error } = useWork();
  const [label, setLabel] = useState('');
  const [type, setType] = useState<Def['type']>('text');
  const [about, setAbout] = useState<Def['about']>('person');
  const [choices, setChoices] = useState('');
  return (
    <Column
      as="form"
      gap={8}
      above={18}
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault();
        void work(async () => {
          await make({ body: { label, type, about, choices: listed(choices) } });
          say(`${label} is there.`);
          setLabel('');
          setChoices('');
        });
      }}
    >
      <h3>Another field</h3>
      <Row>
        <Row width={200}>
          <Field label="Label of the field" placeholder="home landing" value={label} onChange={setLabel} />
        </Row>
        <Choose label="Type of the field" value={type} options={TYPES} onChange={setType} />
        <Bit soft>of</Bit>
        <Choose
          label="Whose field"
          value={about}
          options={[
            ['person', 'people'],
            ['dependant', 'dependants'],
          ]}
          onChange={setAbout}
        />
        {type === 'choice' && (
          <Row width={260}>
            <Field label="Its choices" placeholder="choices, separated by commas" value={choices} onChange={setChoices} />
          </Row>
        )}
        <Button type="submit" disabled={busy || label.trim() === ''}>
          Add a field
        </Button>
      </Row>
      <Trouble error={error} />
    </Column>
  );
}
