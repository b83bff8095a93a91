export { bears, chance, shifted, traitFactor } from './bearing';
export { bitsOf, dangersOf, MOST_QUESTIONS, nextQuestion, questionsOf, shiftOf, tellingQuestion, traitShares, type Shift, type TraitShare } from './interview';
export { barSeen, cleanFactor, findsOtherBar, findsSomething, inOtherBar, looks, plugIn, signChance, type Look } from './looking';
export { stillAsked } from './still';
export { asksWhichPart, asToldPoles, cannotBeReset, SEVERAL, THING, WENT, wentDevice, WHERE } from './which';
export { questions, sights, type Danger, type Question, type Sight } from './questions';
export { traitOf, traits, type Trait } from './traits';
