import { disclaimer } from './html';
import type { Report } from './report';

type Cell = string | { text: string; style?: string };
/** A pdfmake document definition; plain data. */
export interface PdfDefinition { readonly [key: string]: unknown }

const table = (head: readonly string[], widths: readonly (string | number)[], rows: readonly (readonly string[])[]): unknown =>
  rows.length
    ? { table: { headerRows: 1, widths, body: [head.map((h): Cell => ({ text: h, style: 'head' })), ...rows.map((r) => [...r])] }, layout: 'lightHorizontalLines', margin: [0, 2, 0, 8] }
    : { text: 'None.', margin: [0, 2, 0, 8] };
const list = (items: readonly string[]): unknown => (items.length ? { ul: [...items], margin: [0, 2, 0, 8] } : { text: 'None.', margin: [0, 2, 0, 8] });
/** A heading stays with what it heads. */
const heading = (text: string): unknown => ({ text, style: 'section', headlineLevel: 1 });

/** What the maker of PDFs can set: JPEG and PNG. */
const SET = /^data:image\/(jpeg|png);base64,/;

/** Photos with what they show, two beside each other; one that is not there is said to be missing. */
function pictures(r: Report, photos: Readonly<Record<string, string>>): unknown[] {
  if (!r.photos.length) return [];
  const cells = r.photos.map((p) => {
    const url = photos[p.id] ?? '';
    const words = p.note || 'Photo';
    return { stack: SET.test(url) ? [{ image: url, fit: [PHOTO_PT, PHOTO_PT] }, { text: words, margin: [0, 2, 0, 8] }] : [{ text: `${words}: the picture is not on this device, or cannot be read.`, margin: [0, 0, 0, 8] }], width: PHOTO_PT, unbreakable: true };
  });
  const rows = cells.flatMap((cell, i) => (i % 2 ? [] : [{ columns: cells.slice(i, i + 2), columnGap: 20, unbreakable: true }]));
  return [heading('Photos'), ...rows];
}
const PHOTO_PT = 240;

/** @param photos data URLs by id, JPEG or PNG. */
export function reportPdf(r: Report, photos: Readonly<Record<string, string>> = {}): PdfDefinition {
  return {
    info: { title: r.title },
    pageSize: 'A4',
    pageMargins: [42, 42, 42, 48],
    defaultStyle: { font: 'Next', fontSize: 9.5, lineHeight: 1.15 },
    styles: { title: { fontSize: 18, bold: true }, section: { fontSize: 12, bold: true, margin: [0, 8, 0, 2] }, head: { bold: true }, proof: { bold: true, margin: [0, 6, 0, 2] } },
    pageBreakBefore: (node: { headlineLevel?: number }, following: readonly unknown[]) => node.headlineLevel === 1 && following.length === 0,
    footer: (page: number, pages: number) => ({ text: `${r.title} · page ${page} of ${pages} · ${disclaimer}`, fontSize: 8, margin: [42, 12, 42, 0] }),
    content: [
      { text: r.title, style: 'title' },
      { text: `${r.made} · ${r.status}` },
      { text: r.proof, style: 'proof' },
      { text: disclaimer, margin: [0, 0, 0, 4] },
      heading('For the customer'), list(r.customer),
      heading('Asked and drawn'), list(r.asked),
      heading('Found and done'), r.found.length ? table(['What', 'Done', 'Complaint'], ['*', '*', 'auto'], r.found.map((f) => [f.what, f.done, f.explains])) : { text: r.nothing },
      heading('Retests'), table(['Test', 'Expected', 'Before', 'After', 'Result'], ['*', 'auto', 'auto', 'auto', 80], r.retests.map((t) => [t.what, t.expected, t.before, t.after, t.verdict])),
      heading('Readings'), table(['No.', 'Where', 'Function', 'Reading', 'State', 'Remark'], [18, '*', 'auto', 'auto', '*', 70], r.readings.map((x) => [String(x.number), x.what, x.function, x.value, x.state, [x.conditions, x.remark].filter(Boolean).join('; ')])),
      heading('Tests with the supply on'), table(['Test', 'Result', 'State', 'Remark'], ['*', 'auto', 'auto', 80], r.live.map((x) => [x.what, x.value, x.state, x.remark])),
      heading('Safety'), list(r.safety),
      heading('Left as it is'), list(r.leftAs),
      heading('Limitations'), list(r.limitations),
      heading('Observations'), list(r.notes.map((n) => `${n.severity}: ${n.text}`)),
      ...pictures(r, photos),
    ],
  };
}
