import writeExcelFile from 'write-excel-file/node';

/** A table as a workbook of one sheet; every cell is text, so that no number is reshaped and nothing is a formula. */
export async function writeXlsx(sheet: string, rows: readonly (readonly string[])[]): Promise<Uint8Array> {
  const [head = [], ...body] = rows;
  const written = writeExcelFile(
    [
      head.map((value) => ({ value: plain(value), type: String, fontWeight: 'bold' as const })),
      ...body.map((row) => row.map((value) => (value === '' ? null : { value: plain(value), type: String }))),
    ],
    { sheet, stickyRowsCount: 1, columns: head.map(() => ({ width: 18 })) },
  );
  return new Uint8Array(await written.toBuffer());
}

/** XML 1.0 has no control characters but tab and line breaks (§2.2), and a cell holds 32,767 characters. */
function plain(text: string): string {
  return text
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .toWellFormed()
    .slice(0, 32_767);
}
