import { useEffect } from 'react';
import { View } from 'react-native';
import { Button, Caution, HoldButton, Label, Sheet, Words } from '@/components';
import { useJob, type NewEvent } from '@/features/job/JobProvider';
import type { StepView } from '@core/advice';
import { safetyOf } from '@core/advice';
import type { Action } from '@core/planning';
import type { Probe } from '@core/probes';
import { unmetNeeds } from '@core/safety';
import { actionWords, pointName, probeWords, stepTitle, whyText } from '@core/wording';

/** The step as hands do it, in order: make dead, then each change of state, then the readings. */
export function StepSheet({ step, onClose, onEnter, onProve }: { step: StepView; onClose: () => void; onEnter: (p: Probe) => void; onProve: (points: string[]) => void }) {
  const { view, advice, record } = useJob();
  const { map, state } = view;
  const needs = map ? unmetNeeds(map, safetyOf(view), { actions: step.actions, probes: step.probes, earthDoubt: advice?.earthDoubt ?? true }) : [];
  const toProve = needs.flatMap((n) => (n.need === 'proved' ? [n.point] : []));
  const secured = !needs.some((n) => n.need === 'secured');
  const undone = step.actions.filter((a) => !isDone(a, state));
  const ready = needs.length === 0 && undone.length === 0;
  // Nothing to do but read: straight to the pad.
  const straight = ready && step.actions.length === 0 ? step.probes[0] : undefined;
  useEffect(() => {
    if (straight) onEnter(straight);
  }, [straight, onEnter]);
  if (!map) return null;
  const opens = undone.filter((a) => a.do === 'open');
  const rest = undone.filter((a) => a.do !== 'open');
  return (
    <Sheet title={stepTitle(map, step)} onClose={onClose} testID="step-sheet">
      {needs.length ? <Label>First, make dead</Label> : null}
      {!secured ? <Words>The circuit is not secured: permission, off, locked, key.</Words> : null}
      {opens.map((a) => <HoldButton key={JSON.stringify(a)} label={`${actionWords(map, a)}: cover is off`} disabled={!secured} onHeld={() => record(eventOf(a))} testID="do-action" />)}
      {opens.length ? <Caution>Taking a cover off is live work until the point is proved.</Caution> : null}
      {toProve.length && opens.length === 0 ? <Words>{`Prove dead: ${toProve.map((p) => pointName(map, p)).join(', ')}.`}</Words> : null}
      {needs.some((n) => n.need === 'secured' || n.need === 'proved') && (opens.length === 0 || !secured) ? <Button label="Make dead" kind="main" onPress={() => onProve(toProve)} testID="make-dead" /> : null}
      {needs.map((n) => (n.need === 'loadsOut' ? (
        <View key="loads" style={{ gap: 8 }}>
          <Caution>500 V harms electronics. Take them out, or test at 250 V.</Caution>
          <HoldButton label={`Loads out: ${n.parts.length}`} onHeld={() => record({ type: 'loadsMoved', parts: [...n.parts], out: true })} />
        </View>
      ) : null))}
      {rest.length && toProve.length === 0 && secured ? <Label>Then</Label> : null}
      {toProve.length === 0 && secured ? rest.map((a) => <HoldButton key={JSON.stringify(a)} label={actionWords(map, a)} onHeld={() => record(eventOf(a))} testID="do-action" />) : null}
      {rest.some((a) => a.do === 'takeOut') ? <Words at="small" colour="soft">Read across the ends before they are parted, if that was not done. Mark what goes where.</Words> : null}
      <Label>{step.probes.length > 1 ? 'Readings' : 'Reading'}</Label>
      {step.probes.map((p) => <Words key={JSON.stringify(p)}>{probeWords(map, p).line}</Words>)}
      <Words at="small" colour="soft">{whyText(step)}</Words>
      {ready && step.probes[0] ? <Button label="Enter reading" kind="main" onPress={() => onEnter(step.probes[0] as Probe)} testID="enter-reading" /> : null}
    </Sheet>
  );
}

function isDone(a: Action, state: { out: readonly string[]; opened: readonly string[]; off: readonly string[]; loadsOut: readonly string[] }): boolean {
  switch (a.do) {
    case 'open': return state.opened.includes(a.point);
    case 'takeOut': return a.ends.every((e) => state.out.includes(e));
    case 'putBack': return a.ends.every((e) => !state.out.includes(e));
    case 'switch': return state.off.includes(a.part) === a.off;
    case 'unplug': return state.loadsOut.includes(a.part);
  }
}

function eventOf(a: Action): NewEvent {
  switch (a.do) {
    case 'open': return { type: 'opened', point: a.point };
    case 'takeOut': return { type: 'tookOut', point: a.point, ends: [...a.ends] };
    case 'putBack': return { type: 'putBack', point: a.point, ends: [...a.ends] };
    case 'switch': return { type: 'switched', part: a.part, off: a.off };
    case 'unplug': return { type: 'loadsMoved', parts: [a.part], out: true };
  }
}
