-- Changes of audiences that stand as rows no more, counted: with those that do, the audience's version.
CREATE TABLE audience_trimmed (
  id integer PRIMARY KEY CHECK (id = 1),
  changes bigint NOT NULL
);
CREATE INDEX receipt_parked_at ON receipt_parked (at);
CREATE INDEX session_expires ON session (expires_at);
