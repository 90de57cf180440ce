import type { HoursRule } from '../../gate/hours';
import { hoursIn } from '../../gate/hours-of';
import { plausibleZones } from '../../gate/plausible';
import type { PlanPerson } from '../reach/person';
import type { PlanAsked } from '../plan';

const NO_HOURS = { from: '00:00', to: '00:00' };

/** Recipients for whom the same hours hold, and who read the same clock. */
export interface Groups {
  /** For each recipient, their group. */
  of: Uint32Array;
  rules: HoursRule[];
  zones: { zone: string; people: number }[];
}

/** Kept while the people are, by what else they depend on: with most plans only the words change. */
const made = new WeakMap<readonly PlanPerson[], { key: string; groups: Groups }>();

/** Recipients by the hours that hold for them, in the order given. */
export function groupsOf(asked: PlanAsked, people: readonly PlanPerson[]): Groups {
  const { workspace, draft } = asked;
  const hours = [draft.allowed ?? null, draft.urgent !== undefined && draft.purpose === 'service'];
  const key = JSON.stringify([workspace.zone, workspace.quiet_from, workspace.quiet_to, ...hours]);
  const before = made.get(people);
  if (before?.key === key) return before.groups;
  const groups = groupPeople(asked, people);
  made.set(people, { key, groups });
  return groups;
}

function groupPeople(asked: PlanAsked, people: readonly PlanPerson[]): Groups {
  const { workspace, draft } = asked;
  const groups: Groups = { of: new Uint32Array(people.length), rules: [], zones: [] };
  const known = new Map<readonly string[], Map<string, number>>();
  const urgent = draft.urgent !== undefined && draft.purpose === 'service';
  people.forEach((person, i) => {
    const zones = plausibleZones(
      { zone: person.zone, zoneGuessed: person.zone_guessed, number: person.number ?? '' },
      workspace.zone,
    );
    const zone = person.zone ?? workspace.zone;
    let inZones = known.get(zones);
    if (!inZones) known.set(zones, (inZones = new Map()));
    const key = `${zone} ${person.quiet ?? ''}`;
    let group = inZones.get(key);
    if (group === undefined) {
      group = groups.rules.length;
      inZones.set(key, group);
      groups.rules.push(
        urgent
          ? { zones, quiet: NO_HOURS, own: null, allowed: null }
          : hoursIn(zones, person.quiet, workspace, draft.allowed ?? null),
      );
      groups.zones.push({ zone, people: 0 });
    }
    groups.of[i] = group;
    groups.zones[group].people += 1;
  });
  return groups;
}
