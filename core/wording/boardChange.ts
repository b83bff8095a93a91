import type { Finding } from '../boardchange';
import { formatAmp } from '../units';

/** What a check before a board change found, and what it means for the new devices. */
export function changeFindingWords(finding: Finding, ohm: number, volt: number, residualMa: number): string {
  const amp = ohm > 0 ? formatAmp(volt / ohm) : 'a dead short';
  switch (finding) {
    case 'trips': return `${amp} to earth: a ${residualMa} mA device would not hold. Find it before the change.`;
    case 'loads it': return `${amp} to earth: more than one device should carry of its ${residualMa} mA. Find it, or give it a device of its own.`;
    case 'poor': return `${amp} to earth: holds, but below 1 MΩ. Look into it.`;
    case 'joined': return 'Shares a neutral, or borrows one: both circuits would trip. Read it to one neutral after another to find which; keep both behind one device until it is parted.';
    case 'good': return 'Good.';
  }
}
