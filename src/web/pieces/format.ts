/** Times and figures as people here read them: "4:30 PM", "Thu, Dec 3", "1,265". */
let hours: '12' | '24' = '12';
/** The workspace's custom: 4:30 PM or 16:30. */
export function hoursOfClock(): '12' | '24' {
  return hours;
}
/** Told once by whoever knows the workspace, before anything is shown. */
export function tellHours(custom: '12' | '24'): void {
  hours = custom;
}
const made = new Map<string, Intl.DateTimeFormat>();
function formatter(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone}|${JSON.stringify(options)}`;
  let known = made.get(key);
  if (!known) made.set(key, (known = new Intl.DateTimeFormat('en-US', { timeZone: zone, ...options })));
  return known;
}
const plainSpace = (text: string) => text.replace(/\u202f/g, ' ');

export function clockTime(at: string | number, zone: string, seconds = false): string {
  return plainSpace(
    formatter(zone, {
      hour: hours === '24' ? '2-digit' : 'numeric',
      minute: '2-digit',
      ...(seconds ? { second: '2-digit' } : {}),
      ...(hours === '24' ? { hourCycle: 'h23' } : {}),
    }).format(new Date(at)),
  );
}
export function dayOf(at: string | number, zone: string): string {
  return formatter(zone, { weekday: 'short', month: 'short', day: 'numeric' }).format(new Date(at));
}
/** Today's as a time alone, others with their day. */
export function when(at: string, zone: string, now: number): string {
  const day = dayOf(at, zone);
  return day === dayOf(now, zone) ? clockTime(at, zone) : `${day}, ${clockTime(at, zone)}`;
}
/** A field's value as people read it: dates as "Feb 8, 2027". */
export function fieldText(value: string): string {
  return /^\d{4}-\d{2}-\d{2}$/.test(value)
    ? formatter('UTC', { year: 'numeric', month: 'short', day: 'numeric' }).format(new Date(`${value}T12:00:00Z`))
    : value;
}
/** A wall-clock time such as 21:00 as people read it. */
export function wallTime(time: string): string {
  return clockTime(`2026-01-01T${time}:00Z`, 'UTC');
}
export function count(n: number): string {
  return n.toLocaleString('en-US');
}
export function people(n: number): string {
  return n === 1 ? '1 person' : `${count(n)} people`;
}
export function parts(n: number): string {
  return n === 1 ? '1 part' : `${count(n)} parts`;
}
/** "A, B and C". */
export function listed(words: readonly string[]): string {
  return new Intl.ListFormat('en-GB', { type: 'conjunction' }).format(words);
}
export function ago(ms: number): string {
  const minutes = Math.max(0, Math.round(ms / 60_000));
  if (minutes < 60) return `${minutes} min`;
  const hours = Math.floor(minutes / 60);
  return hours < 48 ? `${hours} h${minutes % 60 === 0 ? '' : ` ${minutes % 60}`}` : `${Math.floor(hours / 24)} days`;
}
const ZONES: Record<string, string> = {
  'America/New_York': 'Eastern',
  'America/Detroit': 'Eastern (Detroit)',
  'America/Toronto': 'Eastern (Toronto)',
  'America/Chicago': 'Central',
  'America/Denver': 'Mountain',
  'America/Los_Angeles': 'Pacific',
  'Europe/London': 'London',
};
export function zoneName(zone: string): string {
  return ZONES[zone] ?? zone.replace(/^.*\//, '').replaceAll('_', ' ');
}
export { showMoney as money } from '../../core/plan/money/money';
export { languageName } from '../../core/text/language';
const countries = new Intl.DisplayNames('en-US', { type: 'region' });
/** A country by its name: `CA` is Canada (ISO 3166-1). */
export function countryName(code: string): string {
  return countries.of(code) ?? code;
}
