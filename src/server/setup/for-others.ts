/** What other areas may use of this one; the rest of it is its own (lint). */
export { missingFor } from './missing';
export { fieldDefs, insertInvitation } from './setup-queries';
export { testersOf, whoGetsCopies } from './tester-queries';
export { countryOf, PUBLIC_ADDRESS, workspaceOf } from './workspace';
