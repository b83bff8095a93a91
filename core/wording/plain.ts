import type { SuspectView } from '../advice';
import { findSection, type Installation } from '../installation';
import { deviceWords } from './devices';
import { beliefPlaceName, firstCapital, labelOfSection, pointName } from './places';

// A fault for whoever owns the house: no letters of conductors, no terms of the trade.

const wire = (core = ''): string => (core.startsWith('N') ? 'neutral' : core.startsWith('E') ? 'earth' : 'live');

/** "A wire had come off at Bench", "The live wire touched earth in the cable between Bench and Sink wall". One sentence without its stop. */
export function plainFault(map: Installation, s: Pick<SuspectView, 'id' | 'kind' | 'place' | 'conductors'>): string {
  const [c, d] = s.conductors;
  const section = findSection(map, s.place);
  const at = section ? `in the cable between ${pointName(map, section.a)} and ${pointName(map, section.b)}` : `at ${beliefPlaceName(map, s.place)}`;
  switch (s.kind) {
    case 'sound': return 'Nothing wrong was found';
    case 'unknown': return 'Something was wrong that could not be traced to one place';
    case 'openCore': case 'missingSection': return `${s.kind === 'openCore' ? `The ${wire(c)} wire was broken` : 'A cable was missing'} ${at}`;
    case 'openBridged': return `The earth wire was interrupted ${at}; other metal had taken its place`;
    case 'looseEnd': case 'terminal': case 'notLanded': return `The ${wire(c)} wire was not connected ${at}`;
    case 'resistiveEnd': return `The ${wire(c)} wire had a poor connection ${at}, which gets hot in use`;
    case 'face': return `A contact of the front plate had failed ${at}`;
    case 'contact': case 'pointContact': return `${touched(c, d)} ${at}`;
    case 'loadFault': case 'loadLeft': return `${firstCapital(beliefPlaceName(map, s.place))} is faulty`;
    case 'loadOpen': return `${firstCapital(beliefPlaceName(map, s.place))} has failed inside`;
    case 'crossed': return `Two wires were interchanged ${at}`;
    case 'switchOpen': return `The switch ${at} did not make contact`;
    case 'otherBar': return `The neutral wire of ${labelOfSection(map, s.place)} was connected to another group of circuits`;
    case 'borrowed': return `${firstCapital(beliefPlaceName(map, s.place))} used the neutral wire of another circuit`;
    case 'rcdSensitive': return `The safety switch ${deviceWords(map, c ?? '')} trips too early`;
    case 'rcdBlind': return `The safety switch ${deviceWords(map, c ?? '')} does not trip when it should`;
    case 'standingLeak': return `Each thing behind ${deviceWords(map, c ?? '')} leaks a little to earth, and together it is too much`;
    case 'overload': return `More was running behind ${deviceWords(map, c ?? '')} than it carries`;
    case 'supplyLost': return `The ${wire(c)} of the incoming supply was interrupted`;
    case 'metalPath': return `Metalwork leads to earth ${at}`;
    // What the record had wrong is no fault of the house.
    default: return `Something had been left connected for the tests ${s.place.startsWith('state ') ? '' : at}`.trim();
  }
}

function touched(c = '', d = ''): string {
  const [x, y] = [wire(c), wire(d)];
  if (x === y) return 'Two wires touched each other';
  return x === 'earth' || y === 'earth' ? `The ${x === 'earth' ? y : x} wire touched earth` : 'The two supply wires touched each other';
}
