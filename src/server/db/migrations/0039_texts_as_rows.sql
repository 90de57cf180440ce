-- What the gate asks for comes as rows now (functions/line_texts): as JSON it took the engine three times as long.
DROP FUNCTION line_facts(bigint, bigint[], timestamptz);

-- Each text is written three times (planned, with the carrier, its end), a page's texts in one go. With room for the second beside the first the
-- new one needs no entry in the indexes; measured, table and indexes are two thirds of what they were at 80.
ALTER TABLE outbound SET (fillfactor = 50);

-- Nothing is looked for by these (what is, stands folded beside them): a fifth of the time that counting people takes.
ALTER TABLE person ALTER fields SET STATISTICS 0;
ALTER TABLE dependant ALTER fields SET STATISTICS 0;
