import { zonesOfNumber } from '../phone/zone-guess';

const union = new Map<string, readonly string[]>();

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
  const key = `${person.zone ?? ''} ${workspaceZone} ${byNumber.join('|')}`;
  let zones = union.get(key);
  if (!zones) {
    zones = [...new Set([...(person.zone === null ? [] : [person.zone]), ...byNumber, workspaceZone])];
    if (union.size > 5000) union.clear();
    union.set(key, zones);
  }
  return zones;
}

const single = new Map<string, readonly string[]>();
function one(zone: string): readonly string[] {
  let zones = single.get(zone);
  if (!zones) single.set(zone, (zones = [zone]));
  return zones;
}
