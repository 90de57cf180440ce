import { iso } from '../clock';
import { measure } from '../text/measure';
import { forcing } from '../text/plain-replacements';
import { destinationsOf } from './money/destinations';
import { courseOf } from './picture/course';
import { samplesOf, zonesOf } from './picture/picture';
import type { languagesOf, sumUp } from './picture/sums';
import type { Plan, PlanAsked } from './plan';
import type { readiness } from './ready/readiness';
import { LEFT_OUT_STEPS } from './reach/reach';
import { TAKEBACK_SECONDS } from './times/when';
import { replyDays } from './words/reply-window';
import type { Written } from './words/written';
import type { PlanSummary } from '../api/sending/plan';

/** What a plan was made of and what came out, from which it is told. */
interface Made extends ReturnType<typeof readiness> {
  asked: PlanAsked;
  texts: Plan['texts'];
  written: Written;
  sums: ReturnType<typeof sumUp>;
  dropped: Plan['dropped'];
  languages: ReturnType<typeof languagesOf>;
  copies: Plan['copies'];
  /** What the copies come to. */
  copied: { parts: number; cost: number };
  notAfter: number;
}

/** A plan as it is shown. */
export function summaryOf(made: Made): PlanSummary {
  const { asked, texts, written, sums, dropped, languages, copies, copied, must, hints } = made;
  const { draft, workspace, writer, reach } = asked;
  const { first } = sums;
  const bare = texts.count > 0 ? measure(texts.write(0)) : measure(draft.words);
  const zones = zonesOf(texts, workspace.zone);
  const codes =
    asked.codes && writer.compiled.fields.includes('code')
      ? {
          name: asked.codes.name,
          free: asked.codes.free,
          needed: written.needed,
          exact: written.codes !== undefined || written.needed === 0,
        }
      : null;
  return {
    chosen: reach.chosen,
    named_twice: reach.namedTwice,
    stepped_in: asked.steppedIn,
    can_step_in: asked.canStepIn,
    dropped: Object.fromEntries(LEFT_OUT_STEPS.map((reason) => [reason, dropped[reason].length])) as PlanSummary['dropped'],
    people: texts.count,
    parts: sums.parts + copied.parts,
    cost_micro: sums.cost + copied.cost,
    balance_micro: asked.balance,
    currency: workspace.currency,
    first: first === null ? null : iso(first),
    last: sums.last === null ? null : iso(sums.last),
    not_after: iso(made.notAfter),
    takeback_seconds: TAKEBACK_SECONDS,
    distribution: [...sums.distribution].sort((a, b) => a[0] - b[0]).map(([parts, people]) => ({ parts, people })),
    units: { usual: sums.usualUnits ?? bare.units, longest: sums.longestUnits ?? bare.units, room: bare.units + bare.left },
    alphabet: { gsm7: texts.count - sums.extended, ucs2: sums.extended },
    fallback: sums.fell,
    zones,
    codes,
    destinations: destinationsOf(texts, asked.rates),
    course: courseOf(texts, zones, workspace.zone),
    sender: asked.sender
      ? {
          id: asked.sender.id,
          name: asked.sender.name,
          kind: asked.sender.kind,
          address: asked.sender.address,
          reply_days: replyDays(asked.sender),
        }
      : null,
    forcing: writer.wordings.flatMap(({ language, words }) =>
      forcing(words).map((each) => ({
        language,
        character: each.character,
        replacement: each.replacement ?? null,
        picture: each.picture,
        at: each.at,
      })),
    ),
    languages,
    extended_cost: written.extendedByWords > 0 ? { parts: written.extra.parts, cost_micro: written.extra.cost } : null,
    after: sums.after.parts > 0 ? { parts: sums.after.parts, cost_micro: sums.after.cost } : null,
    copies: copies.length > 0 ? { names: copies.map((each) => each.name), parts: copied.parts, cost_micro: copied.cost } : null,
    opt_out_words: writer.optOut(workspace.languages[0]),
    must_fix: must,
    hints: hints.flatMap((hint) => (hint.place === 'cost' ? [] : [{ ...hint, place: hint.place }])),
    samples: samplesOf(texts, workspace.zone),
  };
}
