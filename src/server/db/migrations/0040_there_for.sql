-- For which dependants somebody was put on a list, where that is known: by the rows of an import, or by the rule of the people who were
-- chosen. Of a membership without rows here nobody knows, and a sheet asks where it matters.
CREATE TABLE list_member_for (
  list_id bigint NOT NULL,
  person_id bigint NOT NULL,
  dependant_id bigint NOT NULL REFERENCES dependant ON DELETE CASCADE,
  -- who said so, for undoing it
  import_id bigint,
  bulk_change_id bigint,
  PRIMARY KEY (list_id, person_id, dependant_id),
  FOREIGN KEY (list_id, person_id) REFERENCES list_member ON DELETE CASCADE
);
CREATE INDEX list_member_for_dependant ON list_member_for (dependant_id);
CREATE INDEX list_member_for_import ON list_member_for (import_id) WHERE import_id IS NOT NULL;
CREATE INDEX list_member_for_bulk ON list_member_for (bulk_change_id) WHERE bulk_change_id IS NOT NULL;

-- `off_for`: for whom somebody was there whom an import took off its list
ALTER TABLE import_touch DROP CONSTRAINT import_touch_kind_check;
ALTER TABLE import_touch ADD CONSTRAINT import_touch_kind_check
  CHECK (kind IN ('list', 'off_list', 'off_for', 'tag', 'dependant', 'guardianship'));

CREATE TRIGGER list_member_for_changes_audience AFTER INSERT OR UPDATE OR DELETE ON list_member_for
  FOR EACH STATEMENT EXECUTE FUNCTION audience_changed();
