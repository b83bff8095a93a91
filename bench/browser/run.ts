import { kills, workNames } from './kills';
import { pageFigures } from './page';
import { tabs } from './tabs';

/**
 * The figures that only a browser has: `npm run bench -- kills` (or kills with kinds of work: notes, readings …) and
 * `npm run bench -- tabs` and `npm run bench -- page`; `--count N`. The app must be built.
 */
async function main(): Promise<void> {
  const args = process.argv.slice(2);
  const count = Number(/--count[= ](\d+)/.exec(args.join(' '))?.[1] ?? 0);
  const only = workNames.filter((w) => args.includes(w));
  if (args.includes('kills')) await kills(count || 200, only.length ? only : workNames);
  if (args.includes('tabs')) await tabs(count || 100);
  if (args.includes('page')) await pageFigures(count || 20);
}

void main();
