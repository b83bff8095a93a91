export { issueText, knownIssueCodes } from './issues';
export { beliefPlaceName, labelOfSection, laneLetter, legOf, pointName, sectionName, spotName } from './places';
export { displayedWords, earlyWords, functionWords, probeWords, type ProbeWords } from './probes';
export { dangerWords, firstAdvice, patternWords, questionWords, shiftText, sightWords, traitWords } from './asking';
export { firstDoWords, retestExpected, retestTitle } from './retests';
export { actionWords, endsWords, explainsText, outcomeMeaning, outcomeRange, stepTitle, suspectMark, suspectSize, suspectTitle, whyText } from './suspects';
export { circuitOf, devicePlate, deviceWords, plateWords } from './devices';
export { aroundWords, breakingWords, budgetFindingWords, formatMilliamp, kiloamp, liveCautionWords, liveOutcomeWords, liveResultWords, liveStepTitle, liveTestWords, loopVerdictWords, moveWords } from './live';
export { colourCaution, notDeadReasons } from './notDead';
