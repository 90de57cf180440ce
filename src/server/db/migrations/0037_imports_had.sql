-- Which imports a broadcast has had its run of, or were done when it was agreed to: by what they are, not by a clock that may be set back.
CREATE TABLE broadcast_import (
  broadcast_id bigint NOT NULL REFERENCES broadcast ON DELETE CASCADE,
  import_id bigint NOT NULL REFERENCES import ON DELETE CASCADE,
  PRIMARY KEY (broadcast_id, import_id)
);
CREATE INDEX broadcast_import_import ON broadcast_import (import_id);
INSERT INTO broadcast_import SELECT broadcast.id, import.id FROM broadcast JOIN import
  ON (import.facts->>'list_id')::bigint = (broadcast.draft->'when'->>'list_id')::bigint
  WHERE broadcast.state = 'scheduled' AND broadcast.draft->'when'->>'kind' = 'import' AND import.state = 'done'
    AND (import.done_at, import.id) <= (broadcast.imports_since, broadcast.imports_last);
ALTER TABLE broadcast DROP COLUMN imports_since, DROP COLUMN imports_last;
