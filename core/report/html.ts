import type { Report } from './report';

const escape = (s: string): string => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] ?? c);

const DISCLAIMER = 'This is a working record. It is no certificate and replaces none.';
export const disclaimer = DISCLAIMER;

const list = (items: readonly string[]): string => (items.length ? `<ul>${items.map((i) => `<li>${escape(i)}</li>`).join('')}</ul>` : '<p>None.</p>');
const table = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
  rows.length ? `<table><thead><tr>${head.map((h) => `<th>${escape(h)}</th>`).join('')}</tr></thead><tbody>${rows.map((r) => `<tr>${r.map((c) => `<td>${escape(c)}</td>`).join('')}</tr>`).join('')}</tbody></table>` : '<p>None.</p>';

/** Photos that are there, each with what it shows. */
function pictures(r: Report, photos: Readonly<Record<string, string>>): string {
  const there = r.photos.flatMap((p) => (photos[p.id] ? [`<figure><img src="${escape(photos[p.id] ?? '')}" alt="${escape(p.note)}" style="max-width:24rem"><figcaption>${escape(p.note)}</figcaption></figure>`] : []));
  return there.length ? `<h2>Photos</h2>${there.join('')}` : '';
}

/** The report as one HTML page that needs nothing else. */
export function reportHtml(r: Report, photos: Readonly<Record<string, string>> = {}): string {
  return `<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>${escape(r.title)}</title><style>body{font:16px/1.45 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem}table{border-collapse:collapse;width:100%}th,td{border-bottom:1px solid #999;text-align:left;padding:.3rem;vertical-align:top}h2{break-after:avoid}thead{display:table-header-group}tr{break-inside:avoid}</style></head><body>
<h1>${escape(r.title)}</h1><p>${escape(r.made)} · ${escape(r.status)}</p><p><strong>${escape(r.proof)}</strong></p><p>${DISCLAIMER}</p>
<h2>For the customer</h2>${list(r.customer)}
<h2>Asked and drawn</h2>${list(r.asked)}
<h2>Found and done</h2>${r.found.length ? table(['What', 'Done', 'Complaint'], r.found.map((f) => [f.what, f.done, f.explains])) : `<p>${escape(r.nothing)}</p>`}
<h2>Retests</h2>${table(['Test', 'Expected', 'Before', 'After', 'Result'], r.retests.map((t) => [t.what, t.expected, t.before, t.after, t.verdict]))}
<h2>Readings</h2>${table(['No.', 'Time', 'Where', 'Function', 'Reading', 'Conditions', 'State', 'Remark'], r.readings.map((x) => [String(x.number), x.time, x.what, x.function, x.value, x.conditions, x.state, x.remark]))}
<h2>Tests with the supply on</h2>${table(['Time', 'Test', 'Result', 'State', 'Remark'], r.live.map((x) => [x.time, x.what, x.value, x.state, x.remark]))}
<h2>Safety</h2>${list(r.safety)}<h2>Left as it is</h2>${list(r.leftAs)}<h2>Limitations</h2>${list(r.limitations)}<h2>Observations</h2>${list(r.notes.map((n) => `${n.severity}: ${n.text}`))}${pictures(r, photos)}</body></html>`;
}
