export * from './schema';
export { endKey, endKeyOf, endName, faceKey, parsePlace, terminalKey, type ParsedPlace, type PlaceKey, type Side } from './keys';
export { allEnds, boardOf, circuitsOf, endsAtPoint, endsOfSection, findPoint, findSection, landingOf, loadsOf, placeExists, pointOfPlace, roleOfPlace, sectionOfEnd, terminalOfPlace, type EndRef } from './lookup';
export { protectionsOf, residualDeviceOf, type Protection } from './devices';
export { boardPart, defaultDevice, MOST_WAYS } from './draftBoard';
export { draftCircuit, MOST_POINTS } from './draft';
export { editMap, MOST_LENGTH_M, type MapEdit } from './edit';
export { checkInstallation } from './check';
export { cpcBesideMm2, freshId, makePoint, makeSection } from './make';
