-- Accounts that end, passwords that are chosen anew, and how an account likes its tables.

-- an account that was removed keeps its name, so that the record goes on saying who did what
ALTER TABLE account ADD COLUMN removed_at timestamptz;
-- columns, their order and width, by table: how this account looks at it
ALTER TABLE account ADD COLUMN layouts jsonb NOT NULL DEFAULT '{}';
-- a one-time link may be for somebody who is here already: they choose a new password with it
ALTER TABLE invitation ADD COLUMN account_id bigint REFERENCES account ON DELETE CASCADE;
-- whether the first page (what a first text needs) was gone through or put aside
ALTER TABLE workspace ADD COLUMN begun boolean NOT NULL DEFAULT true;
-- how times are written: 4:30 PM or 16:30
ALTER TABLE workspace ADD COLUMN hours text NOT NULL DEFAULT '12' CHECK (hours IN ('12', '24'));
-- the last row of the file that is written; that it is a row and no count, its name says now
ALTER TABLE import RENAME COLUMN written TO written_row;
