// Writes dist/licences.txt: the licence of every package whose code or font is in what ships, found by the source maps of the build, which are then removed.
import { existsSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
const dir = process.argv[2] ?? 'dist';
const fonts = ['@expo-google-fonts/atkinson-hyperlegible-mono', '@expo-google-fonts/atkinson-hyperlegible-next'];
// Made into dist by the build itself: the service worker's runtime.
const built = ['workbox-core', 'workbox-precaching', 'workbox-routing', 'workbox-strategies'];

const folders = new Set();
const all = readdirSync(dir, { recursive: true }).map(String);
const maps = all.filter((f) => f.endsWith('.map'));
if (!maps.length) throw new Error('the build has no source maps: licences cannot be told');
for (const map of maps) {
  for (const source of JSON.parse(readFileSync(join(dir, map), 'utf8')).sources) {
    const at = source.lastIndexOf('node_modules/');
    if (at < 0) continue;
    const [scope, name] = source.slice(at + 13).split('/');
    folders.add(
      join(
        'node_modules',
        source
          .slice(0, at)
          .split('node_modules/')
          .slice(1)
          .map((p) => `${p}node_modules/`)
          .join(''),
        scope.startsWith('@') ? `${scope}/${name}` : scope,
      ),
    );
  }
  rmSync(join(dir, map));
}
for (const f of all.filter((f) => f.endsWith('.js') && existsSync(join(dir, f)))) {
  const text = readFileSync(join(dir, f), 'utf8');
  if (/^\/\/# sourceMappingURL=/m.test(text))
    writeFileSync(join(dir, f), text.replace(/^\/\/# sourceMappingURL=\S+\n?/m, ''));
}
for (const p of [...fonts, ...built]) folders.add(join('node_modules', p));
/** A package that comes as one built file holds all that it depends on, and its map does not say so. */
function withDependencies(name) {
  const folder = join('node_modules', name);
  if (!existsSync(folder)) return;
  folders.add(folder);
  for (const d of Object.keys(JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')).dependencies ?? {}))
    if (!folders.has(join('node_modules', d))) withDependencies(d);
}
['pdfmake'].forEach(withDependencies);

// A package that ships no text of its own gives what its package.json says.
const notices = new Map();
for (const folder of [...folders].sort()) {
  const manifest = join(folder, 'package.json');
  if (!existsSync(manifest)) continue;
  const { name, version, license, author } = JSON.parse(readFileSync(manifest, 'utf8'));
  const files = readdirSync(folder)
    .filter((f) => /^(licen[cs]e|copying|notice|ofl)([._-]|$)/i.test(f) && !/\.(js|ts|json)$/.test(f))
    .sort();
  const text = files.map((f) => readFileSync(join(folder, f), 'utf8').trim()).join('\n\n');
  const by = typeof author === 'string' ? author : author?.name;
  notices.set(
    `${name} ${version}`,
    text ||
      `${typeof license === 'string' ? license : (license?.type ?? 'no licence stated')}${by ? `, by ${by.replace(/\s*<[^>]*>/, '')}` : ''}`,
  );
}
const title = (name, licence) => `${name}\n${'-'.repeat(name.length)}\n${licence}\n`;
writeFileSync(
  join(dir, 'licences.txt'),
  `What Gutter is made with, and the terms it came under: ${notices.size} packages.\n\n${[...notices].map(([n, t]) => title(n, t)).join('\n')}`,
);
console.log(`licences.txt: ${notices.size} packages`);
