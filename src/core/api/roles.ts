/** Roles in order: each may do what those before it may. */
export const ROLES = ['look', 'write', 'send', 'manage'] as const;
export type Role = (typeof ROLES)[number];

export function mayDo(role: Role, needed: Role): boolean {
  return ROLES.indexOf(role) >= ROLES.indexOf(needed);
}
