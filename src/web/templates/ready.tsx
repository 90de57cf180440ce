import { styled } from '@mui/material/styles';
import { Fragment, type ReactNode } from 'react';
import { templates } from '../../core/api/sending/templates';
import type { LinkSpec } from '../../core/plan/draft/links';
import type { Draft } from '../../core/plan/draft/draft';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { InWords } from '../pieces/words/InWords';
import { dayOf, people } from '../pieces/format';
import { Column, Words } from '../pieces/layout';
import { Pressed } from '../pieces/ways';

/** Words that can be taken up, wherever they come from. */
export interface Ready {
  key: string;
  name: string;
  folder: string;
  words: Record<string, string>;
  links: LinkSpec[];
  opt_out?: Draft['opt_out'];
  /** Whose it is, or when and to how many it went. */
  more: string;
}

/** A page of templates, pieces, or texts sent before. */
export function usePrepared(
  kind: 'template' | 'piece' | 'earlier',
  search: string | undefined,
  skip: number,
): { list: Ready[] | undefined; total: number | undefined; error: unknown } {
  const { workspace } = useDesk();
  const texts = useGet(templates.list, kind === 'earlier' ? undefined : { query: { kind, search, skip } }, { keep: true });
  const earlier = useGet(templates.earlier, kind === 'earlier' ? { query: { search, skip } } : undefined, { keep: true });
  if (kind === 'earlier')
    return {
      list: earlier.data?.texts.map(({ run_id, at, people: n, ...text }) => ({
        ...text,
        key: String(run_id),
        name: text.name || 'no name',
        folder: '',
        more: `${dayOf(at, workspace.zone)}, ${people(n)}`,
      })),
      total: earlier.data?.total,
      error: earlier.error,
    };
  // the answer of the other kind stands until this one's is there: it is not this one's
  const own = texts.data?.texts.every((text) => text.kind === kind) ? texts.data : undefined;
  return {
    list: own?.texts.map(({ id, by, updated_at, name, folder, words, links }) => ({
      key: String(id),
      name,
      folder,
      words,
      links,
      more: `${by ?? 'someone'}, ${dayOf(updated_at, workspace.zone)}`,
    })),
    total: own?.total,
    error: texts.error,
  };
}

const Line = styled(Pressed)(({ theme }) => ({
  display: 'block',
  width: '100%',
  padding: '6px 8px',
  borderBottom: `1px solid ${theme.bell.hairline}`,
  '&[aria-pressed="true"]': { background: theme.bell.lakeWash },
}));

/** Prepared words under their folders, to choose one. */
export function ReadyList({
  label,
  list,
  chosen,
  choose,
  nothing,
}: {
  label: string;
  list: readonly Ready[] | undefined;
  chosen: string | undefined;
  choose: (key: string) => void;
  nothing: string;
}): ReactNode {
  const { workspace } = useDesk();
  if (!list) return <Words soft>Looking…</Words>;
  if (list.length === 0) return <Words soft>{nothing}</Words>;
  return (
    <Column gap={0} role="group" aria-label={label}>
      {list.map((each, i) => (
        <Fragment key={each.key}>
          {each.folder !== '' && each.folder !== list[i - 1]?.folder && (
            <Words soft small pad="10px 8px 2px">
              {each.folder}
            </Words>
          )}
          <Line aria-pressed={each.key === chosen} onClick={() => choose(each.key)}>
            <Words strong cut>
              {each.name}
            </Words>
            <Words soft small cut>
              <InWords line words={each.words[workspace.languages[0]] ?? Object.values(each.words)[0] ?? ''} />
            </Words>
          </Line>
        </Fragment>
      ))}
    </Column>
  );
}
