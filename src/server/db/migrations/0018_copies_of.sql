-- Whose words a copy for the desk holds: when they are erased, so are their words there.
ALTER TABLE outbound ADD COLUMN copy_of bigint;
CREATE INDEX outbound_copy_of ON outbound (copy_of) WHERE copy_of IS NOT NULL;
