export { elementKey, isClosed, isElementKey, Link, linkKey, stateSignature, untouched, WorkState } from './schema';
export { addLink, removeLink, setCover, setEnd, setEnds, setLoadOut, setOff, setSwitchesOn, turned } from './change';
