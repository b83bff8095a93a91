import { labelOfWay, waysOfBoard, type Installation } from '../installation';
import { counted } from '../units';

/** What a phrase was heard as, before the job is started: "6 ways, 5 behind an RCD: Kitchen, Garden, ….", "9 points, 10 cables." */
export function draftedWords(map: Installation): string {
  if (map.shape !== 'board') return `${counted(map.points.length - 1, 'point', 'points')}, ${counted(map.sections.length, 'cable', 'cables')}. Names, order and lengths can come later.`;
  const ways = waysOfBoard(map);
  const shared = ways.filter((w) => w.group).length;
  const own = ways.filter((w) => w.device?.kind === 'rcbo').length;
  const behind = [shared ? `${shared === ways.length ? 'all' : shared} behind an RCD` : '', own ? `${own === ways.length ? 'all' : own} on an RCBO` : ''].filter(Boolean);
  const labels = ways.map((w) => labelOfWay(map, w.id));
  const named = labels.some((l, i) => l !== ways[i]?.name);
  return `${[counted(ways.length, 'way', 'ways'), ...behind].join(', ')}${named ? `: ${labels.join(', ')}. A` : '. Labels and devices can come later; a'} circuit can stay undrawn.`;
}
