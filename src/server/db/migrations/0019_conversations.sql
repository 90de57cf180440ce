-- Who of the desk looks after the conversation with a number, and until when it is put away. Whether anything waits in it is
-- what its texts say (inbound.done_at): decided there, and asked there again each time.
CREATE TABLE conversation (
  number text PRIMARY KEY,
  claimed_by bigint REFERENCES account ON DELETE SET NULL,
  claimed_at timestamptz,
  -- put away until then, or until they write again
  later_at timestamptz
);
CREATE INDEX conversation_later ON conversation (later_at) WHERE later_at IS NOT NULL;

-- who wrote a single text
ALTER TABLE outbound ADD COLUMN account_id bigint;

-- what was written, folded as people are: found by any part of it
ALTER TABLE inbound ADD COLUMN folded text NOT NULL DEFAULT '';
UPDATE inbound SET folded = lower(body);
CREATE INDEX inbound_folded ON inbound USING gin (folded gin_trgm_ops);
-- answers only: what went to many is found by its broadcast
CREATE INDEX outbound_single_words ON outbound USING gin (lower(body) gin_trgm_ops) WHERE kind = 'reply';

-- ready answers stand beside templates and pieces
ALTER TABLE prepared_text DROP CONSTRAINT prepared_text_kind_check;
ALTER TABLE prepared_text ADD CONSTRAINT prepared_text_kind_check CHECK (kind IN ('template', 'piece', 'answer'));
