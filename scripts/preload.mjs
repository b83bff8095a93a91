// Tells the page early what it is going to need: without it each lazy part is asked for only once the one before it has run.
// The first page is whole in the entry; the part behind it (work) is named in a meta tag, and public/theme.js asks for it at once where a job's address was opened.
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
const head = `    <meta name="gutter-work" content="/${chunks}/${one('work')}" />\n`;
const page = join(dir, 'index.html');
const html = readFileSync(page, 'utf8');
const before = '    <script src="/theme.js"></script>';
if (!html.includes(before)) throw new Error(`${page} has no ${before}`);
writeFileSync(page, html.replace(before, head + before));
console.log('index.html: the work behind the first page is named ahead');
