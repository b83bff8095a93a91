const escape = (s: string): string => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] ?? c);

/** A page for the customer to print and fill in: when it tripped, the weather, what ran. */
export function diaryPage(title: string, appliances: readonly string[]): string {
  const rows = Array.from({ length: 14 }, () => '<tr><td></td><td></td><td>dry · wet</td><td></td><td></td></tr>').join('');
  return `<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>${escape(title)}</title><style>body{font:15px/1.4 sans-serif;margin:1.5rem}table{border-collapse:collapse;width:100%}th,td{border:1px solid #555;height:2.1rem;padding:.2rem .4rem;text-align:left}</style></head><body>
<h1>${escape(title)}: when does it trip?</h1><p>Each time it goes, write one line before it is switched on again. Three lines already help.</p>${appliances.length ? `<p>Think of: ${escape(appliances.join(', '))}.</p>` : ''}
<table><thead><tr><th>Date</th><th>Time</th><th>Weather</th><th>What was running, what was just switched on</th><th>What was done, did it stay on</th></tr></thead><tbody>${rows}</tbody></table></body></html>`;
}
