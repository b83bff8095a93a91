export { benchCosts, costsOf, MOST_MINUTES, ownMinutes, parseHabits, startings, TIE, tradeCosts, usualHabits, type Costs, type Habits, type OwnMinutes, type Starting } from './costs';
export { inMegohms, inOhms, probesFor, sharesLowContact } from './candidates';
export { costOf, plan, stepKey, stepPoints, type PlanOptions, type Step } from './plan';
export { naturesOf, numbered, placeNames, placesOf, shareByPlace, type PlaceShare } from './places';
export { actionMinutes, allPlugsMin, allSwitchesMin, applyAction, atLoadOrSwitch, canReach, minutesFor, plugMin, pullsByPlug, spotsAt, type Action, type Situation, type Spot } from './stance';
export { forecast, frontOf, bandsBetween, chanceOfPart, entropyIn, outcomeClasses, PARTS, tellingCuts, type Band, type Forecast, type Front } from './outcomes';
