export * from './schema';
export { endKey, faceKey, parsePlace, terminalKey, type ParsedPlace, type PlaceKey, type Side } from './keys';
export { allEnds, boardOf, endsAtPoint, endsOfSection, findPoint, findSection, loadsOf, placeExists, pointOfPlace, roleOfPlace, terminalOfPlace, type EndRef } from './lookup';
