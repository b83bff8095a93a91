import { gutter, halfSplitting, pointByPoint } from './strategies';
import { drawCase, families } from './world';
const [from, to, strat = 'gutter', fam = '', tr = ''] = process.argv.slice(2);
const f = { gutter, halfSplitting, pointByPoint }[strat as 'gutter'];
let N = 0, R = 0, M = 0, D = 0, O = 0, V = 0, VR = 0;
for (const family of families) {
  if (fam && fam !== family) continue;
  let n = 0, r = 0, m = 0, d = 0, o = 0; const t0 = Date.now();
  for (let seed = Number(from); seed <= Number(to); seed++) {
    const c = drawCase(family, seed);
    const lines: string[] = [];
    const run = strat === 'gutter' ? gutter(c, undefined, (l) => lines.push(l)) : f(c);
    n++; if (run.right) r++; m += run.minutes; d += run.readings; o += run.opened; if (run.verdict) { V++; if (run.right) VR++; }
    if (tr && (tr === 'all' || !run.right || run.minutes > 25)) console.log(family, seed, c.answer.id, JSON.stringify(c.fault), run.right ? '' : 'WRONG', run.minutes.toFixed(1), run.readings, JSON.stringify(run.leader), '\n  ' + lines.join('\n  '));
  }
  console.log(family, 'right', (r / n).toFixed(3), 'min', (m / n).toFixed(1), 'readings', (d / n).toFixed(1), 'opened', (o / n).toFixed(1), 'ms/run', ((Date.now() - t0) / n).toFixed(0));
  N += n; R += r; M += m; D += d; O += o;
}
console.log('pooled', (R / N).toFixed(3), 'min', (M / N).toFixed(1), 'verdicts', V, 'right', (VR / V).toFixed(3));
