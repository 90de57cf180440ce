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
export { Binder, guardianSql, ruleSql } from './rule-sql';
