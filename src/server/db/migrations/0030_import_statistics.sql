-- Nothing is looked for by what stands in the cells of a file: their statistics cost half a second with long cells, and help nobody.
ALTER TABLE import_row ALTER COLUMN cells SET STATISTICS 0;
ALTER TABLE import_row ALTER COLUMN import_id SET STATISTICS 20;
ALTER TABLE import_row ALTER COLUMN row_no SET STATISTICS 20;
ALTER TABLE import_row ALTER COLUMN size SET STATISTICS 0;
ALTER TABLE import_verdict ALTER COLUMN changes SET STATISTICS 0;
ALTER TABLE import_verdict ALTER COLUMN import_id SET STATISTICS 20;
ALTER TABLE import_verdict ALTER COLUMN row_no SET STATISTICS 20;
ALTER TABLE import_verdict ALTER COLUMN verdict SET STATISTICS 20;
ALTER TABLE import_verdict ALTER COLUMN reason SET STATISTICS 20;
ALTER TABLE import_verdict ALTER COLUMN fix SET STATISTICS 20;
ALTER TABLE import_verdict ALTER COLUMN person_id SET STATISTICS 20;
ALTER TABLE import_verdict ALTER COLUMN blanks SET STATISTICS 0;
