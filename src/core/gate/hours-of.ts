import type { QuietHours } from '../zones';
import type { AllowedHours, HoursRule } from './hours';

/** What a workspace says of hours: where it is, and when everyone sleeps. */
export interface WorkspaceHours {
  zone: string;
  quiet_from: string;
  quiet_to: string;
}

/** Somebody's own do-not-disturb hours, kept as `HH:MM-HH:MM`. */
function ownHours(quiet: string | null): QuietHours | null {
  return quiet ? { from: quiet.slice(0, 5), to: quiet.slice(6) } : null;
}

/** The hours that hold in these zones: the workspace's quiet hours, the person's own, and those in which a broadcast may go. */
export function hoursIn(
  zones: readonly string[],
  quiet: string | null,
  { quiet_from, quiet_to }: WorkspaceHours,
  allowed: AllowedHours | null,
): HoursRule {
  return { zones, quiet: { from: quiet_from, to: quiet_to }, own: ownHours(quiet), allowed };
}
