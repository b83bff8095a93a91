import { kills, works } from './kills';

/** The figures that only a browser has: `npm run bench -- kills`. The app must be built. */
async function main(): Promise<void> {
  const args = process.argv.slice(2);
  const count = Number(/--count[= ](\d+)/.exec(args.join(' '))?.[1] ?? 200);
  const only = works.filter((w) => args.includes(w));
  if (args.includes('kills')) await kills(count, only.length ? { only } : {});
}

void main();
