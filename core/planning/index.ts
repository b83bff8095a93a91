export { benchCosts, tradeCosts, type Costs } from './costs';
export { costOf, plan, probesFor, sharesLowContact, stepKey, stepPoints, type PlanOptions, type Step } from './plan';
export { placeNames, placesOf, shareByPlace, type PlaceShare } from './places';
export { actionMinutes, applyAction, canReach, minutesFor, spotsAt, type Action, type Situation, type Spot } from './stance';
export { forecast, frontOf, outcomeClasses, type Front } from './outcomes';
