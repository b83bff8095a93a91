import type { Installation } from '../installation';
import type { JobView } from '../job';
import type { Profile } from '../profiles';
import { liveLimit, type LiveLimit, type LiveRetest, type RetestItem } from '../retest';
import { deviceWords, figuresWords } from './devices';
import { formatOhm } from '../units';
import { probeWords } from './probes';

const liveWords: Readonly<Record<LiveRetest, string>> = {
  loop: 'Loop impedance at the furthest point', half: 'RCD at half its rated current', rcd: 'RCD trip time at its rated current, and the test button', ramp: 'RCD ramp, its outgoing conductors off or out',
  clamp: 'Clamp round line and neutral together, everything running', function: 'Function of every point',
};

const firstLower = (s: string): string => s.charAt(0).toLowerCase() + s.slice(1);

export function retestTitle(map: Installation, item: RetestItem): string {
  // Of a circuit whose board is not drawn nobody knows what protects it.
  if (item.live === 'rcd' && map.shape !== 'board') return `RCD, if there is one: ${firstLower(liveWords.rcd.replace('RCD ', ''))}`;
  if (item.live) {
    const device = item.key.split(' ')[1];
    return device === undefined ? liveWords[item.live] : `${liveWords[item.live]}: ${deviceWords(map, device)}`;
  }
  const line = item.probe ? probeWords(map, item.probe).line : '';
  switch (item.code) {
    case 'continuity': return `Continuity ${line}`;
    case 'ring': return `Ring, leg to leg: ${line}`;
    case 'polarity': return `Polarity: ${line}`;
    case 'insulation': return `Insulation ${line}`;
    case 'insulationLoadsBack': return `Insulation with the loads back ${line}`;
    case 'boardTerminals': return `Terminal: ${line}`;
    case 'live': return line;
  }
}

export const firstDoWords = { rejoin: 'When everything is back and no link is in.', 'all but the legs': 'When everything but the legs of the ring is back, and no link is in.', 'legs out': 'With both legs of the ring out at the board.', 'switches on': 'With the switches on: through one that is off nothing is proved.', 'loads out': 'With the loads out.', 'loads back': 'When the loads are back in.' } as const;

/** What a live test may show at most: "at most 1.37 Ω"; words where nothing on the map says. */
function liveExpected(map: Installation, live: LiveRetest, limit: LiveLimit | null): string {
  if (live === 'function') return 'works as it should';
  if (live === 'half') return 'does not trip';
  if (!limit) return 'limit: by the device of the way';
  const { least, most, unit } = limit;
  const figure = (x: number): string => (unit === 'Ω' ? formatOhm(x) : `${Math.round(x)} ${unit}`);
  const guess = limit.onGuess === undefined ? '' : ` if ${figuresWords(map, limit.onGuess)}`;
  return `${least > 0 ? `${Math.round(least)} to ${figure(most)}` : `at most ${figure(most)}`}${guess}`;
}

/** What a retest has to show: "exp. 0.50 Ω", "at least 1.00 MΩ", "at most 300 ms". */
export function retestExpected({ map, mends }: Pick<JobView, 'map' | 'mends'>, item: RetestItem, profile: Profile): string {
  if (item.live) return map ? liveExpected(map, item.live, liveLimit(map, item.live, mends.find((m) => m.event.id === item.mend)?.event.place ?? '', profile)) : '';
  if (item.leastOhm === 1e5) return 'exp. no path';
  if (item.leastOhm !== null) return `at least ${formatOhm(item.leastOhm)}`;
  if (item.expectedOhm === null) return '';
  return item.expectedOhm > 1e5 ? 'exp. no path' : `exp. ${formatOhm(item.expectedOhm)}`;
}

/** What a figure is held against hangs on a device that nobody has read. */
export const onGuessWords = (map: Installation, device: string): string => `The limit depends on ${deviceWords(map, device)}, and ${figuresWords(map, device)} is a guess. What is it marked?`;
