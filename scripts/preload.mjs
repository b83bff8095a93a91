// Tells the page early what it is going to need: without it each lazy part is asked for only once the one before it has run.
// The parts of the first page are named in the head; the part behind it (work) is named in a meta tag, and public/theme.js asks for it at once where a job's address was opened.
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
const dir = process.argv[2] ?? 'dist';
const chunks = '_expo/static/js/web';
const files = readdirSync(join(dir, chunks)).filter((f) => f.endsWith('.js'));
const one = (start) => {
  const [found] = files.filter((f) => f.startsWith(`${start}-`));
  if (!found) throw new Error(`no part ${start} in ${chunks}`);
  return found;
};
// The routes that the entry loads by and by: layouts and the list of jobs are small, and every address needs one of them first.
const entry = readFileSync(join(dir, chunks, one('entry')), 'utf8');
const routes = [...entry.matchAll(/"\/_expo\/static\/js\/web\/((?:_layout|index|\[stage\])-[0-9a-f]{32}\.js)"/g)].map(
  (m) => m[1],
);
if (routes.length < 3) throw new Error(`routes not found in the entry: ${routes.join(', ')}`);
const head = [
  ...[...new Set(routes)].map((f) => `<link rel="preload" href="/${chunks}/${f}" as="script" />`),
  `<meta name="gutter-work" content="/${chunks}/${one('work')}" />`,
]
  .map((line) => `    ${line}\n`)
  .join('');
const page = join(dir, 'index.html');
const html = readFileSync(page, 'utf8');
const before = '    <script src="/theme.js"></script>';
if (!html.includes(before)) throw new Error(`${page} has no ${before}`);
writeFileSync(page, html.replace(before, head + before));
console.log(`index.html: ${routes.length} parts named ahead`);
