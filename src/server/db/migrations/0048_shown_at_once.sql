-- Texts that phones show at once and need not keep (class 0): of a run, or a single one; and what the carrier takes of them.
ALTER TABLE run ADD COLUMN show_at_once boolean NOT NULL DEFAULT false;
ALTER TABLE outbound ADD COLUMN show_at_once boolean NOT NULL DEFAULT false;
ALTER TABLE workspace ADD COLUMN carrier_at_once text NOT NULL DEFAULT 'any' CHECK (carrier_at_once IN ('any', 'plain', 'plain_group', 'none'));
