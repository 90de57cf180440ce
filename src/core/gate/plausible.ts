import { zonesOfNumber } from '../phone/zone-guess';

const union = new WeakMap<readonly string[], Map<string, readonly string[]>>();

/**
 * The zones someone may be in: their own when it is known; else (a guess, or no idea) every zone their number's country and
 * area code allow, what was guessed, and the workspace's.
 */
export function plausibleZones(
  person: { zone: string | null; zoneGuessed: boolean; number: string },
  workspaceZone: string,
): readonly string[] {
  if (person.zone !== null && !person.zoneGuessed) return one(person.zone);
  const byNumber = zonesOfNumber(person.number);
  // the lists of the table are the same objects each time, so that a million people cost no strings
  let known = union.get(byNumber);
  if (!known) union.set(byNumber, (known = new Map()));
  const key = person.zone === null ? workspaceZone : `${person.zone} ${workspaceZone}`;
  let zones = known.get(key);
  if (!zones) {
    zones = [...new Set([...(person.zone === null ? [] : [person.zone]), ...byNumber, workspaceZone])];
    known.set(key, zones);
  }
  return zones;
}

const single = new Map<string, readonly string[]>();
function one(zone: string): readonly string[] {
  let zones = single.get(zone);
  if (!zones) single.set(zone, (zones = [zone]));
  return zones;
}
