import Papa from 'papaparse';
import type { Report } from './report';

/** Spreadsheets take a file for UTF-8 by this. */
const BYTE_ORDER_MARK = '\uFEFF';

/** Readings as CSV by RFC 4180: CRLF lines, quoted where needed, a header line. What a spreadsheet would reckon with as a formula stays text. */
export function readingsCsv(r: Report): string {
  const fields = ['number', 'time', 'where', 'function', 'reading', 'conditions', 'state', 'remark'];
  const data = r.readings.map((x) => [String(x.number), x.time, x.what, x.function, x.value, x.conditions, x.state, x.remark]);
  return `${BYTE_ORDER_MARK}${Papa.unparse({ fields, data }, { newline: '\r\n', escapeFormulae: true })}\r\n`;
}
