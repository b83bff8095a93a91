import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { createServer } from './app';

const root = mkdtempSync(join(tmpdir(), 'gutter-server-'));
writeFileSync(join(root, 'index.html'), '<title>Gutter</title>');
writeFileSync(join(root, 'entry-0123456789abcdef0123456789abcdef.js'), 'x');
writeFileSync(join(root, 'plain.js'), 'y');
writeFileSync(join(root, 'plain.js.br'), 'compressed');
const app = createServer({ root: relative(process.cwd(), root), demo: true });
const get = (path: string, headers: Record<string, string> = {}) => app.request(path, { headers });

test('a deep link gives the page, a missing file does not', async () => {
  const page = await get('/job/abc/trace', { accept: 'text/html' });
  expect(await page.text()).toContain('Gutter');
  expect((await get('/nothing.js', { accept: 'text/html' })).status).toBe(404);
});

test('hashed files are kept for ever, others are asked for again', async () => {
  expect((await get('/entry-0123456789abcdef0123456789abcdef.js')).headers.get('cache-control')).toContain('immutable');
  expect((await get('/plain.js')).headers.get('cache-control')).toBe('no-cache');
});

test('a browser that takes brotli gets the compressed file', async () => {
  const answer = await get('/plain.js', { 'accept-encoding': 'br' });
  expect(answer.headers.get('content-encoding')).toBe('br');
});

test('a compressed copy has no address of its own', async () => {
  expect((await get('/plain.js.br')).status).toBe(404);
});

test('what has not changed is not sent again, compressed or plain', async () => {
  for (const headers of [{}, { 'accept-encoding': 'br' }] as Record<string, string>[]) {
    const first = await get('/plain.js', headers);
    const tag = first.headers.get('etag') ?? '';
    expect(tag).not.toBe('');
    const again = await get('/plain.js', { ...headers, 'if-none-match': tag });
    expect(again.status).toBe(304);
    expect(await again.text()).toBe('');
    expect(again.headers.get('cache-control')).toBe('no-cache');
    expect((await get('/plain.js', { ...headers, 'if-none-match': '"other"' })).status).toBe(200);
  }
  const page = await get('/', { accept: 'text/html' });
  expect((await get('/', { accept: 'text/html', 'if-none-match': page.headers.get('etag') ?? '' })).status).toBe(304);
});

test('scripts come from here alone, and nobody may frame the app', async () => {
  const policy = (await get('/', { accept: 'text/html' })).headers.get('content-security-policy') ?? '';
  expect(policy).toContain("script-src 'self'");
  expect(policy).toContain("frame-ancestors 'none'");
  expect(policy).not.toContain('unsafe');
});

test('the demo flag is told and never cached', async () => {
  const answer = await get('/config.json');
  expect(await answer.json()).toEqual({ demo: true });
  expect(answer.headers.get('cache-control')).toBe('no-store');
});
