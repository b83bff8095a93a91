import type { Suspect } from '../faults';
import type { JobView } from '../job';

/** Factors on the trade's priors from what was asked: a trip speaks for contacts, a dead part for breaks. Never zero: people misremember. */
export function biasOf(asked: JobView['asked']): (s: Suspect) => number {
  const has = (s: Suspect, c: string): boolean => s.conductors.includes(c);
  const contact = (s: Suspect): boolean => s.kind === 'contact' || s.kind === 'pointContact' || s.kind === 'loadFault';
  const open = (s: Suspect): boolean => ['openCore', 'looseEnd', 'terminal', 'missingSection', 'switchOpen', 'face', 'crossed'].includes(s.kind);
  const damp = (s: Suspect): number => (asked.wet && contact(s) && has(s, 'E') ? 1.5 : 1);
  const disturbed = (s: Suspect): number => (asked.works && (s.kind === 'contact' || s.kind === 'openCore' || s.kind === 'crossed' || s.kind === 'looseEnd') ? 1.5 : 1);
  const kind = (s: Suspect): number => {
    switch (asked.complaint) {
      case 'rcd trips': return contact(s) && has(s, 'E') ? 8 : s.kind === 'crossed' ? 2 : 0.3;
      case 'mcb trips': return contact(s) && has(s, 'L') ? (has(s, 'N') ? 8 : 4) : 0.3;
      case 'dead': return open(s) && !has(s, 'E') ? 6 : contact(s) ? 0.5 : 0.5;
      case 'shock': return has(s, 'E') || contact(s) ? 4 : 0.4;
      case 'flicker or heat': return s.kind === 'resistiveEnd' || s.kind === 'face' ? 7 : open(s) ? 2 : 0.4;
      default: return 1;
    }
  };
  return (s) => (s.kind === 'sound' || s.kind === 'unknown' || s.place.startsWith('state ') ? 1 : kind(s) * damp(s) * disturbed(s));
}

/** The suspects with their priors shifted and made to sum to 1 again. */
export function shifted(suspects: readonly Suspect[], asked: JobView['asked']): Suspect[] {
  const factor = biasOf(asked);
  const weighed = suspects.map((s) => ({ ...s, prior: s.prior * factor(s) }));
  const total = weighed.reduce((sum, s) => sum + s.prior, 0);
  return weighed.map((s) => ({ ...s, prior: s.prior / total }));
}
