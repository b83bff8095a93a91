export { Button } from './Button';
export { HoldButton } from './HoldButton';
export { Caution, Choice, Field, Label, OutcomeRow, Problem, RowButton, Tick } from './parts';
export { Sheet } from './Sheet';
export { usePageTitle } from './usePageTitle';
export { Words } from './Words';
