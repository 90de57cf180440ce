-- What the gate asks for comes as rows now (functions/line_texts): as JSON it took the engine three times as long.
DROP FUNCTION line_facts(bigint, bigint[], timestamptz);

-- Nothing is looked for by these (what is, stands folded beside them): a fifth of the time that counting people takes.
ALTER TABLE person ALTER fields SET STATISTICS 0;
ALTER TABLE dependant ALTER fields SET STATISTICS 0;
