import { boardOf, findPoint, labelOfWay, protectionsOf, type Device, type Installation } from '../installation';

/** A device as people say it: "RCD 1", "way 3, Office", "Main switch", "Extractor, way 4 of Clay shed sub-board". */
export function deviceWords(map: Installation, id: string): string {
  const d = protectionsOf(map).find((p) => p.id === id);
  if (!d) return id;
  if (d.kind === 'rcd' || d.kind === 'main') return d.name;
  const label = circuitOf(map, id);
  if (d.at !== boardOf(map)?.id) return label.endsWith(d.name) ? `${d.name} of ${pointIn(map, d.at)}` : `${label}, ${d.name} of ${pointIn(map, d.at)}`;
  return label && label !== d.name ? `${d.name}, ${label}` : d.name;
}

const pointIn = (map: Installation, id: string): string => findPoint(map, id)?.name ?? id;

/** Label of the circuit on a way. */
export const circuitOf = (map: Installation, way: string): string => labelOfWay(map, way);

/** Behind figures that nobody has read on the device. */
const GUESSED = '(guessed)';

/** The figures of a device alone: "B32", "30 A", "30 mA", "B32, 30 mA". */
export function figuresWords(map: Installation, id: string): string {
  const d = protectionsOf(map).find((p) => p.id === id);
  return [d?.ratingA ? `${d.curve ?? ''}${d.ratingA}${d.curve ? '' : ' A'}` : '', d?.residualMa ? `${d.residualMa} mA` : ''].filter(Boolean).join(', ');
}

/** Kind and figures of a device: "RCBO B32, 30 mA", "MCB B32 (guessed)". */
export function devicePlate(map: Installation, id: string): string {
  const d = protectionsOf(map).find((p) => p.id === id);
  if (!d) return '';
  const kind = { rcd: 'RCD', main: d.residualMa ? 'RCD' : 'switch', mcb: 'MCB', rcbo: 'RCBO', fuse: 'fuse' }[d.kind];
  return [kind, figuresWords(map, id), d.residualType ? `type ${d.residualType}` : '', d.guessed ? GUESSED : ''].filter(Boolean).join(' ');
}

/** The same of a way's device alone: "MCB B32", "fuse 30", "RCBO C16, 30 mA". */
export function plateWords(d: Device | null): string {
  if (!d) return '';
  return `${d.kind === 'fuse' ? 'fuse ' : `${d.kind.toUpperCase()} ${d.curve ?? ''}`}${d.ratingA}${d.residualMa === null ? '' : `, ${d.residualMa} mA`}${d.residualType ? `, type ${d.residualType}` : ''}${d.guessed ? ` ${GUESSED}` : ''}`;
}
