// Tables as text (RFC 4180), for whatever else a station keeps.

/** One line a row. Cells that a spreadsheet would run as a formula are kept from it by an apostrophe. */
export function writeCsv(rows: readonly (readonly string[])[]): string {
  return rows.map((cells) => cells.map(cell).join(',')).join('\r\n') + '\r\n';
}

function cell(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  // Programs in many languages part cells by semicolons, and some by tabs.
  return /[",;\t\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
