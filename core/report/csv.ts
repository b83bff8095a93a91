import Papa from 'papaparse';
import type { Report } from './report';

/** Readings as CSV by RFC 4180: CRLF lines, quoted where needed, a header line. */
export function readingsCsv(r: Report): string {
  const fields = ['number', 'time', 'where', 'function', 'reading', 'conditions', 'state', 'remark'];
  const data = r.readings.map((x) => [String(x.number), x.time, x.what, x.function, x.value, x.conditions, x.state, x.remark]);
  return `${Papa.unparse({ fields, data }, { newline: '\r\n' })}\r\n`;
}
