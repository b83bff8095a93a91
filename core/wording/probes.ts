import type { Foreseen } from '../advice';
import { parsePlace, sectionOfEnd, type Installation } from '../installation';
import type { Probe } from '../probes';
import { displayOf, type Displayed } from '../tester';
import { formatIn, formatOhm, type OhmUnit } from '../units';
import { laneLetter, pointName, spotName } from './places';

export interface ProbeWords {
  /** "N to N" or "L–E". */
  readonly pair: string;
  readonly from: string;
  readonly to: string;
  /** One line for a list: "N, Board leg 1 to Bench". */
  readonly line: string;
}

export function probeWords(map: Installation, probe: Probe): ProbeWords {
  const through = throughFaceWords(map, probe);
  if (through) return through;
  const side = (keys: readonly string[]): { letters: string; place: string } => ({
    letters: keys.map((k) => laneLetter(map, k)).join('+'),
    place: [...new Set(keys.map((k) => spotName(map, k)))].join(' and '),
  });
  const a = side(probe.from);
  const b = side(probe.to);
  const same = a.place === b.place;
  const pair = a.letters === b.letters ? `${a.letters} to ${b.letters}` : `${a.letters}–${b.letters}`;
  const what = a.letters === b.letters ? a.letters : pair;
  return { pair, from: `${a.letters} at ${a.place}`, to: `${b.letters} at ${b.place}`, line: same ? `${what} at ${a.place}` : (endToEndWords(map, probe, what) ?? acrossWords(what, a.place, b.place) ?? `${what}, ${a.place} to ${b.place}`) };
}

/** From the front of an accessory to the bare terminal behind it: the contact of its face alone. Null where the leads are elsewhere. */
function throughFaceWords(map: Installation, { from, to }: Probe): ProbeWords | null {
  const keys = [...from, ...to];
  const places = keys.map(parsePlace);
  const face = places.findIndex((p) => p?.at === 'face');
  const [front, back] = [places[face], places[1 - face]];
  if (keys.length !== 2 || front?.at !== 'face' || back?.at !== 'terminal' || front.point !== back.point || front.terminal !== back.terminal) return null;
  const [letter, name] = [laneLetter(map, keys[0] ?? ''), spotName(map, keys[face] ?? '')];
  const said = [`${letter} at the front of ${name}`, `${letter} at the terminal behind it`];
  return { pair: `${letter} to ${letter}`, from: said[face] ?? '', to: said[1 - face] ?? '', line: `${letter}, front of ${name} to the terminal behind it` };
}

/** Both leads on the two ends of one core: "strapper 2 from end to end, Switch 1 to Switch 2". Null when they are not. */
function endToEndWords(map: Installation, { from, to }: Probe, what: string): string | null {
  const [a, b] = [from, to].map((keys) => (keys.length === 1 ? parsePlace(keys[0] ?? '') : null));
  if (a?.at !== 'end' || b?.at !== 'end' || a.core !== b.core) return null;
  const [x, y] = [sectionOfEnd(map, a), sectionOfEnd(map, b)];
  return x && y && x.section === y.section && x.side !== y.side ? `${what} from end to end, ${pointName(map, x.section[x.side])} to ${pointName(map, y.section[y.side])}` : null;
}

/** Both leads at one point: "N across Sink wall, end to Bench and end to Drying door". Null when they are not. */
function acrossWords(what: string, a: string, b: string): string | null {
  const part = (spot: string): [string, string] => {
    const [point = '', ...rest] = spot.split(', ');
    return [point, rest.join(', ')];
  };
  const [here, first] = part(a);
  const [there, second] = part(b);
  if (here !== there) return null;
  return `${what} across ${here}, ${[first, second].map((x) => x || 'its terminal').join(' and ')}`;
}

/** The display in words: "0.35 Ω", "no path", "> 999 MΩ". */
export function displayedWords(fn: Probe['fn'], d: Displayed, unit?: OhmUnit): string {
  if ('above' in d) return fn === 'continuity' ? 'no path' : `> ${Math.round(d.above / 1e6)} MΩ`;
  return unit ? formatIn(d.ohm, unit) : formatOhm(d.ohm);
}

/** What a reading is expected to show: "0.42 Ω", "above 2 MΩ". What it shows at least is known to one figure, and said no finer. */
export function expectedWords(fn: Probe['fn'], { ohm, atLeast }: Foreseen): string {
  if (!atLeast) return displayedWords(fn, displayOf(fn, ohm), fn === 'insulation' ? 'MΩ' : undefined);
  const decade = 10 ** Math.floor(Math.log10(ohm / 1e6));
  return `above ${Number((Math.floor(ohm / 1e6 / decade + 1e-9) * decade).toPrecision(1))} MΩ`;
}

/** A reading as it was entered: with the digits that were typed. */
export const readingWords = (e: { readonly probe: Pick<Probe, 'fn'>; readonly displayed: Displayed; readonly unit: OhmUnit; readonly typed?: string | undefined }): string =>
  'above' in e.displayed || !e.typed ? displayedWords(e.probe.fn, e.displayed, 'above' in e.displayed ? undefined : e.unit) : `${e.typed} ${e.unit}`;

export const functionWords: Readonly<Record<Probe['fn'], string>> = { continuity: 'ohms', insulation: 'insulation' };

/** A reading that waits for the map: "way 3, L–E: 0.30 MΩ". */
export const earlyWords = (e: { readonly way: number; readonly pair: string; readonly displayed: { ohm: number } | { above: number }; readonly unit: OhmUnit }): string =>
  `way ${e.way}, ${e.pair.charAt(0)}–${e.pair.charAt(1)}: ${displayedWords(e.unit === 'Ω' ? 'continuity' : 'insulation', e.displayed, 'ohm' in e.displayed ? e.unit : undefined)}`;
