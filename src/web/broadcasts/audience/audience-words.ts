import { LEFT_OUT_STEPS, LEFT_OUT_WORDS, type LeftOutStep } from '../../../core/plan/reach/reach';
import { count } from '../../pieces/format';
import { OUTCOME_WORDS } from '../../../core/outcome/outcomes';
import type { Draft, Source } from '../../../core/plan/draft/draft';
import type { Sources } from '../../people/for-others';

/** Who of an audience does not get it, each reason with how many; '' when everyone does. */
export const leftOutWords = (dropped: Readonly<Record<LeftOutStep, number>>): string =>
  LEFT_OUT_STEPS.filter((step) => dropped[step] > 0)
    .map((step) => `${count(dropped[step])} ${LEFT_OUT_WORDS[step]}`)
    .join(', ');

/** A source as it is listed: what it is, its name, and how many it names where that is known at once. */
export function sourceWords(
  source: Source,
  sources: Sources | undefined,
): { kind: string; name: string; people: number | undefined } {
  switch (source.kind) {
    case 'everyone':
      return { kind: 'all', name: 'Everyone', people: sources?.everyone };
    case 'person':
      return { kind: 'person', name: `Person ${source.id}`, people: 1 };
    case 'dependants':
      return {
        kind: 'contacts',
        name: source.ids.length === 1 ? 'Of one dependant' : `Of ${count(source.ids.length)} dependants`,
        people: undefined,
      };
    case 'numbers':
      return {
        kind: 'typed',
        name: source.numbers.length === 1 ? source.numbers[0] : 'Typed numbers',
        people: source.numbers.length,
      };
    case 'file':
      return { kind: 'file', name: 'A file, used once', people: undefined };
    case 'run':
      return {
        kind:
          OUTCOME_WORDS[source.outcome] +
          (source.choice ? ` “${source.choice.label}”` : '') +
          (source.words ? ` “${source.words}”` : '') +
          (source.reason ? `, ${source.reason}` : ''),
        name: source.name,
        people: undefined,
      };
    case 'unreachable':
      return { kind: 'numbers', name: 'Numbers that did not exist before', people: undefined };
    case 'list': {
      const found = sources?.lists.find((each) => each.id === source.id);
      return { kind: 'list', name: found?.name ?? (sources ? 'a list that is gone' : '…'), people: found?.people };
    }
    case 'tag': {
      const found = sources?.tags.find((each) => each.id === source.id);
      return { kind: 'tag', name: found?.name ?? (sources ? 'a tag that is gone' : '…'), people: found?.people };
    }
    case 'segment':
      return {
        kind: 'segment',
        name: sources?.segments.find((each) => each.id === source.id)?.name ?? 'a segment that is gone',
        people: undefined,
      };
  }
}

/** The draft with one recipient unticked, by person or, for a number that is nobody's, by number. */
export function untick(draft: Draft, who: { id: number | null; number: string | null }): Partial<Draft> {
  return who.id !== null
    ? { unticked: [...draft.unticked, who.id] }
    : { unticked_numbers: [...(draft.unticked_numbers ?? []), who.number ?? ''] };
}

export function untickedCount(draft: Draft): number {
  return draft.unticked.length + (draft.unticked_numbers?.length ?? 0);
}
