// Reads a table of contacts: comma-separated values (RFC 4180) as programs really write them.
import { parse } from 'csv-parse/sync';
import { PlainError } from '../foundation/errors';

const MOST_ROWS = 20_000;
const MOST_COLUMNS = 100;

export interface TableRow {
  /** The line of the file that it begins on. */
  line: number;
  cells: string[];
}

/** Rows with the line that each begins on. Commas, semicolons and tabs are taken for what parts them. Throws PlainError. */
export function readTable(text: string): TableRow[] {
  const [first = ''] = text.replace(/^\ufeff/, '').split(/\r?\n/, 1);
  const delimiter = [',', ';', '\t'].sort((a, b) => first.split(b).length - first.split(a).length)[0]!;
  let rows: { record: string[]; info: { lines: number } }[];
  try {
    rows = parse(text, {
      ...{ bom: true, delimiter, relax_column_count: true, relax_quotes: true, skip_empty_lines: true, info: true },
      to: MOST_ROWS + 1,
    }) as unknown as typeof rows;
  } catch (error) {
    const line = /line (\d+)/i.exec(error instanceof Error ? error.message : '')?.[1];
    throw new PlainError(400, `This table cannot be read${line ? ` beyond line ${line}: a quotation mark is not closed` : ''}. Save it as CSV and try again.`);
  }
  if (rows.length > MOST_ROWS) throw new PlainError(400, `This table has more than ${MOST_ROWS.toLocaleString('en-GB')} lines. Bring it in by parts.`);
  return rows.map(({ record, info }) => ({ line: info.lines, cells: record.slice(0, MOST_COLUMNS) }));
}
