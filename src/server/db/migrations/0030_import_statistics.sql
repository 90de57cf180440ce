-- Nothing is looked for by what stands in the cells of a file: their statistics cost half a second with long cells, and help nobody.
ALTER TABLE import_row
  ALTER cells SET STATISTICS 0, ALTER size SET STATISTICS 0, ALTER import_id SET STATISTICS 20, ALTER row_no SET STATISTICS 20;
ALTER TABLE import_verdict
  ALTER changes SET STATISTICS 0, ALTER blanks SET STATISTICS 0, ALTER import_id SET STATISTICS 20, ALTER row_no SET STATISTICS 20,
  ALTER verdict SET STATISTICS 20, ALTER reason SET STATISTICS 20, ALTER fix SET STATISTICS 20, ALTER person_id SET STATISTICS 20;
