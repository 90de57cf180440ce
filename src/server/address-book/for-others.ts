/** What other areas may use of this one; the rest of it is its own (lint). */
export {
  STORED,
  type StoredPerson,
  detachNumber,
  fieldTypes,
  insertPeople,
  peopleById,
  reserveIds,
  updatePeople,
} from './person-store';
export { dependantsOfRule } from './dependants-of-rule';
export { Binder, ruleSql } from './rule-sql';
export { keepThereFor, thereFor, type ThereFor } from './there-for';
