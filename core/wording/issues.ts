import type { Issue } from '../issue';

const say: Readonly<Record<string, (f: Readonly<Record<string, string | number>>) => string>> = {
  'draft.shape': () => 'Begin with ring, radial, lights or tree, “ring, 9”, or with the ways of a board, “10 ways”.',
  'draft.count': () => 'Say how many points: “radial, 5”.',
  'draft.part': (f) => `“${f.part}” is not understood. Try “one switch”, “spur at 4” or “branch 2 at 3”.`,
  'draft.ringTooSmall': (f) => `A ring needs at least two points; this has ${f.points}. Draft it as a radial.`,
  'draft.tooSmall': () => 'At least one point is needed.',
  'draft.tooMany': (f) => `${f.points} points are more than one circuit takes here (${f.most}). Draft a part of it.`,
  'draft.noSuchPoint': (f) => `There is no point ${f.at}: the circuit has ${f.points}.`,
  'board.count': () => 'Say how many ways: “10 ways, RCD on 1 to 6, RCBOs on 7 to 10”.',
  'board.tooSmall': () => 'A board here has two ways or more. For one circuit draft the circuit: “ring, 9”.',
  'board.tooMany': (f) => `${f.ways} ways are more than one board takes here (${f.most}). Draft a part of it.`,
  'board.part': (f) => `“${f.part}” is not understood. Try “RCD on 1 to 6”, “RCBOs on 7 to 10”, “fuses on 1 to 4” or “TT”.`,
  'board.noSuchWay': (f) => `There is no way ${f.way}: the board has ${f.ways}.`,
  'board.twoRcds': (f) => `Way ${f.way} stands behind two RCDs. Put it behind one.`,
  'board.rcboBehindRcd': (f) => `Way ${f.way} is an RCBO behind an RCD. Say one of the two.`,
  'board.threePoleRcbo': (f) => `Way ${f.way}: an RCBO of three poles is not drawn here. Say 3-pole, and an RCD over it.`,
  'board.threePoleShape': () => 'A three-phase way is drawn as a radial or a tree: “radial, 1” for a kiln.',
  'board.noRating': () => 'Give the rating of the device in amperes, a number above 0.',
  'board.noResidual': () => 'Give the residual current of the RCBO in milliamperes.',
  'board.alreadyDrawn': (f) => `${f.name} is drawn already. Change it point by point.`,
  'board.feedsItself': () => 'A way cannot feed its own board. Say what hangs on it: “ring, 8”, “radial, 4”, “lights, 6”.',
  'board.otherPoles': (f) => `${f.name} was drafted with a device that opens other poles. Draft the board anew with “RCBOs on …”.`,
  'supply.figure': (f) => `${f.figure} cannot be. Give a figure above 0, or leave the field empty.`,
  'map.noPoint': () => 'That point is no longer on the map. Pick another.',
  'map.noSection': () => 'That cable is no longer on the map. Pick another.',
  'map.emptyName': () => 'Give it a name, or leave the old one.',
  'map.sameName': (f) => `There is already a point called “${f.name}”. Call this one something else.`,
  'map.lengthZero': () => 'A length must be more than 0 m. Leave the guess if it is not known.',
  'map.lengthHuge': (f) => `${f.lengthM} m is longer than any circuit here (${f.most} m). Check the figure.`,
  'map.extra': (f) => `${f.minutes} minutes cannot be. Give 0 to ${f.most}.`,
  'map.watt': (f) => `${f.watt} W cannot be. Give the power on the plate, in watts, up to ${f.most}.`,
  'map.boardStays': () => 'The board stays where it is.',
  'map.tooFew': (f) => `A ${f.shape} would be left without a point. Draft it anew instead.`,
  'map.junction': (f) => `${f.sections} cables meet at ${f.name}. Remove the branch first.`,
  'map.sameId': () => 'Two parts of the map carry one id. The file cannot be used as it is.',
  'map.oneBoard': (f) => `A map has one board; this has ${f.boards}.`,
  'map.noTerminal': (f) => `A conductor lands on terminal “${f.terminal}”, which is not there.`,
  'map.loosePoint': (f) => `${f.name} is joined to nothing.`,
  'reading.empty': () => 'Type what the meter shows, or tap the mark it shows.',
  'reading.notNumber': (f) => `“${f.text}” is no number. Type what the meter shows.`,
  'reading.negative': (f) => `${f.text} ${f.unit} cannot be: a resistance is never below zero. Null the leads and read again.`,
  'reading.tooLarge': (f) => `${f.text} ${f.unit} is beyond any meter. Use “> top” if it is off scale.`,
  'file.notJson': () => 'This file is cut short or is not a job file. Nothing was changed. Export it again at the other end.',
  'file.notOurs': () => 'This is not a Gutter job file. Nothing was changed.',
  'file.noVersion': () => 'This job file does not say its version. Nothing was changed.',
  'file.newer': (f) => `This job file is version ${f.version}; this Gutter knows up to ${f.known}. Nothing was changed. Reload Gutter to get the newer one, then open the file.`,
  'file.shape': (f) => `A part of the file is not as it should be (${f.why}). Nothing was changed.`,
  'file.sameEventId': () => 'Two entries of the file carry one id. Nothing was changed.',
  'storage.refused': () => 'The browser would not keep this. It is still on screen: export the job now, then free some space.',
  'job.missing': () => 'There is no such job in this browser. It may have been deleted, or made on another phone.',
  'state.unknownPlace': (f) => `“${f.place}” names a place that is not on the map.`,
  'step.needs': () => 'Make it dead first.',
};

/** A problem in plain words, with what to do. */
export function issueText(i: Issue): string {
  const text = say[i.code]?.(i.figures ?? {}) ?? `Something is not right (${i.code}).`;
  return i.path.length && i.code.startsWith('file.') ? `${text} At ${i.path.join('.')}.` : text;
}

export const knownIssueCodes = Object.keys(say);
