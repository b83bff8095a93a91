import type { Help } from '../advice';
import type { Installation } from '../installation';
import { formatShare } from '../units';
import { pointName } from './places';

const many = (n: number, one: string, more: string): string => `${n} ${n === 1 ? one : more}`;

/** What would help, as the words of its button, and why. */
export function helpWords(map: Installation, h: Help): { readonly label: string; readonly why: string } {
  switch (h.help) {
    case 'turnedDown': return { label: `Offer again what was turned down (${h.count})`, why: 'Put off is not done: it may still tell.' };
    case 'reach': return { label: `${pointName(map, h.point)} can be reached after all`, why: `${formatShare(h.share)} lies there and on its cables.` };
    case 'hidden': return { label: `Find ${pointName(map, h.point)}`, why: `${formatShare(h.share)} lies there and on its cables; found, it can be opened.` };
    case 'draw': return { label: `Draw ${pointName(map, h.point)}`, why: `${formatShare(h.share)} lies on it; drawn, it can be read at its points.` };
    case 'loads': return { label: `Say the loads: ${many(h.points, 'point has', 'points have')} one of no stated size`, why: 'What may be in, and of any size, hides what is wrong. Take it out, or say its plate.' };
    case 'lengths': return { label: `Measure a cable: ${h.guessed} of ${many(h.of, 'length is a guess', 'lengths are guesses')}`, why: 'Known lengths tell where along it.' };
    case 'wait': return { label: 'Come back while it is there', why: 'What comes with damp, heat or a load is read then. Note what was found, and leave it safe until then.' };
    case 'safe': return { label: 'Leave it safe', why: 'Off, out, labelled, and said to the customer.' };
  }
}
