import { useState } from 'react';
import { Button, Choice, Field, Label, Problem, Words } from '@/components';
import { costsOf, MOST_MINUTES, ownMinutes, startings, usualHabits, type OwnMinutes } from '@core/planning';
import { useHabits } from './useHabits';

const words: Readonly<Record<OwnMinutes, string>> = {
  walk: 'Walk to the next point', open: 'Take a cover off', split: 'Split a cable out, or put it back', bar: 'A neutral out of its bar', reading: 'One reading', proveOpened: 'Prove dead at an open point',
};
const figure = (text: string): number | undefined => (text.trim() === '' ? undefined : Number(text.replace(',', '.')));

/** Minutes that differ from person to person; the plan weighs every step by them. */
export function OwnWay() {
  const [habits, setHabits] = useHabits();
  // What is typed stands until it is another habit that was kept.
  const [typed, setTyped] = useState<Partial<Record<OwnMinutes, string>>>({});
  const text = (k: OwnMinutes): string => typed[k] ?? String(habits.minutes[k] ?? '');
  const usual = costsOf(usualHabits);
  const wrong = ownMinutes.filter((k) => {
    const x = figure(text(k));
    return x !== undefined && !(x >= 0 && x <= MOST_MINUTES);
  });
  const save = (): void => {
    if (wrong.length) return;
    setHabits({ ...habits, minutes: Object.fromEntries(ownMinutes.flatMap((k) => { const x = figure(text(k)); return x === undefined ? [] : [[k, x]]; })) });
    setTyped({});
  };
  return (
    <>
      <Label>Begin with, where two ways promise the same</Label>
      <Choice label="Begin with" value={habits.startWith} onChange={(startWith) => setHabits({ ...habits, startWith })} options={startings.map((s) => ({ value: s, label: s.charAt(0).toUpperCase() + s.slice(1) }))} />
      <Label>Your own minutes</Label>
      <Words at="small" colour="soft">Left empty, the usual figure counts. Ladders and ceilings are said at the point, on the map.</Words>
      {wrong.length ? <Problem text={`Give minutes from 0 to ${MOST_MINUTES}: ${wrong.map((k) => words[k].toLowerCase()).join(', ')}.`} /> : null}
      {ownMinutes.map((k) => <Field key={k} label={`${words[k]} (usual ${usual[k]} min)`} unit="min" figure keyboard="decimal-pad" value={text(k)} onChange={(v) => setTyped({ ...typed, [k]: v })} testID={`own-${k}`} />)}
      <Button label={Object.keys(typed).length ? 'Save minutes' : 'Saved'} kind={Object.keys(typed).length ? 'main' : 'plain'} disabled={Object.keys(typed).length === 0} onPress={save} testID="save-minutes" />
    </>
  );
}
