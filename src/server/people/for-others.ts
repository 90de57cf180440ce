/** What other areas may use of this one; the rest of it is its own (lint). */
export { changesOfRun } from './bulk';
export { type StagedRow, nextRows } from './imports/file-rows';
export { takeOnce } from './imports/take-once';
export { readerOf } from './imports/import-rules';
export { namesOfNumbers } from './person/person-queries';
