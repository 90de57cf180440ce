import { Button } from '@mui/material';
import { useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { send } from '../api/client';
import type { FieldDef } from '../people/sources';
import { Choose, Trouble } from '../pieces/small';

const TYPES = [
  ['text', 'text'],
  ['number', 'number'],
  ['date', 'date'],
  ['choice', 'choice'],
  ['yes_no', 'yes/no'],
] as const;
const listed = (text: string) => [...new Set(text.split(/\s*,\s*/).filter((each) => each !== ''))];

/** Custom fields of people and of dependants: each is at once a merge field and a condition. */
export function Fields({ fields, may, manage }: { fields: readonly FieldDef[]; may: boolean; manage: boolean }) {
  const client = useQueryClient();
  const [fresh, setFresh] = useState({
    label: '',
    type: 'text' as FieldDef['type'],
    about: 'person' as FieldDef['about'],
    choices: '',
  });
  const [edited, setEdited] = useState<{ key: string; label: string; choices: string }>();
  const [error, setError] = useState<unknown>();
  const act = async (work: () => Promise<unknown>) => {
    setError(undefined);
    try {
      await work();
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  return (
    <>
      <table>
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">In texts</th>
            <th scope="col">Type</th>
            <th scope="col">
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {fields.map((field) => {
            const key = `${field.about}/${field.slug}`;
            return (
              <tr key={key}>
                <td>
                  {edited?.key === key ? (
                    <input
                      className="field"
                      aria-label="Label"
                      value={edited.label}
                      onChange={(event) => setEdited({ ...edited, label: event.target.value })}
                    />
                  ) : (
                    field.label
                  )}
                  {field.about === 'dependant' && <span className="soft"> of dependants</span>}
                </td>
                <td className="soft">{`{${field.about === 'dependant' ? 'dependants.' : ''}${field.slug}}`}</td>
                <td>
                  {TYPES.find(([type]) => type === field.type)?.[1]}
                  {edited?.key === key && field.type === 'choice' ? (
                    <input
                      className="field"
                      aria-label="Choices"
                      placeholder="choices, separated by commas"
                      value={edited.choices}
                      onChange={(event) => setEdited({ ...edited, choices: event.target.value })}
                      style={{ marginLeft: 6, width: 190 }}
                    />
                  ) : (
                    field.choices.length > 0 && <span className="soft">: {field.choices.join(', ')}</span>
                  )}
                </td>
                <td className="num" style={{ whiteSpace: 'nowrap' }}>
                  {may &&
                    (edited?.key === key ? (
                      <span className="row nowrap" style={{ justifyContent: 'flex-end' }}>
                        {manage && (
                          <button
                            type="button"
                            className="way brick"
                            onClick={() => void act(() => send('DELETE', `/api/fields/${key}`).then(() => setEdited(undefined)))}
                          >
                            delete
                          </button>
                        )}
                        <Button
                          disabled={edited.label.trim() === ''}
                          onClick={() =>
                            void act(() =>
                              send('PUT', `/api/fields/${key}`, { label: edited.label, choices: listed(edited.choices) }).then(
                                () => setEdited(undefined),
                              ),
                            )
                          }
                        >
                          Save
                        </Button>
                      </span>
                    ) : (
                      <button
                        type="button"
                        className="way"
                        aria-label={`Change the field ${field.label}`}
                        onClick={() => setEdited({ key, label: field.label, choices: field.choices.join(', ') })}
                      >
                        change
                      </button>
                    ))}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {fields.length === 0 && <p className="soft">None yet.</p>}
      {may && (
        <form
          className="row"
          style={{ padding: '8px 0' }}
          onSubmit={(event) => {
            event.preventDefault();
            void act(() =>
              send('POST', '/api/fields', { ...fresh, choices: listed(fresh.choices) }).then(() =>
                setFresh({ ...fresh, label: '', choices: '' }),
              ),
            );
          }}
        >
          <input
            className="field"
            aria-label="Label of the field"
            placeholder="home landing"
            value={fresh.label}
            onChange={(event) => setFresh({ ...fresh, label: event.target.value })}
            style={{ width: 150 }}
          />
          <Choose
            label="Type of the field"
            value={fresh.type}
            options={TYPES}
            onChange={(type) => setFresh({ ...fresh, type })}
          />
          <span className="soft">of</span>
          <Choose
            label="Whose field"
            value={fresh.about}
            options={[
              ['person', 'people'],
              ['dependant', 'dependants'],
            ]}
            onChange={(about) => setFresh({ ...fresh, about })}
          />
          {fresh.type === 'choice' && (
            <input
              className="field"
              aria-label="Its choices"
              placeholder="choices, separated by commas"
              value={fresh.choices}
              onChange={(event) => setFresh({ ...fresh, choices: event.target.value })}
              style={{ width: 200 }}
            />
          )}
          <Button type="submit" disabled={fresh.label.trim() === ''}>
            Add a field
          </Button>
        </form>
      )}
      <Trouble error={error} />
    </>
  );
}
