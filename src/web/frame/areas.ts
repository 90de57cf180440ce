/** The areas, with the key that goes there. */
export const AREAS = [
  { path: '/', name: 'Today', key: 't' },
  { path: '/people', name: 'People', key: 'p' },
  { path: '/broadcasts', name: 'Broadcasts', key: 'b' },
  { path: '/replies', name: 'Replies', key: 'r' },
  { path: '/outcomes', name: 'Outcomes', key: 'o' },
  { path: '/setup', name: 'Setup', key: 's' },
] as const;
