import { useEffect } from 'react';
import { View } from 'react-native';
import { Button, Caution, HoldButton, Label, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import type { StepView } from '@core/advice';
import { safetyOf } from '@core/advice';
import { pointOfPlace, type Installation } from '@core/installation';
import { eventOfAction } from '@core/job';
import type { Action } from '@core/planning';
import type { Probe } from '@core/probes';
import { unmetNeeds } from '@core/safety';
import { linkKey, type WorkState } from '@core/workstate';
import { actionWords, pointName, probeWords, stepTitle, unplugWords, whyText } from '@core/wording';

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
      {opens.map((a) => <HoldButton key={JSON.stringify(a)} label={`${actionWords(map, a)}: cover is off`} disabled={!secured} onHeld={() => record(eventOfAction(a))} testID="do-action" />)}
      {opens.length ? <Caution>Taking a cover off is live work until the point is proved.</Caution> : null}
      {toProve.length && opens.length === 0 ? <Words>{`Prove dead: ${toProve.map((p) => pointName(map, p)).join(', ')}.`}</Words> : null}
      {needs.some((n) => n.need === 'secured' || n.need === 'proved') && (opens.length === 0 || !secured) ? <Button label="Make dead" kind="main" onPress={() => onProve(toProve)} testID="make-dead" /> : null}
      {needs.map((n) => (n.need === 'loadsOut' ? (
        <View key="loads" style={{ gap: 8 }}>
          <Caution>500 V harms electronics. Take them out, or test at 250 V.</Caution>
          <HoldButton label={unplugWords(map, n.parts)} onHeld={() => record({ type: 'loadsMoved', parts: [...n.parts], out: true })} />
        </View>
      ) : null))}
      {rest.length && toProve.length === 0 && secured ? <Label>Then</Label> : null}
      {toProve.length === 0 && secured ? rest.map((a) => <HoldButton key={JSON.stringify(a)} label={actionWords(map, a)} onHeld={() => record(eventOfAction(a))} testID="do-action" />) : null}
      {rest.some((a) => a.do === 'takeOut') ? <Words at="small" colour="soft">Read across the ends before they are parted, if that was not done. Mark what goes where.</Words> : null}
      <Label>{step.probes.length > 1 ? 'Readings' : 'Reading'}</Label>
      {step.probes.map((p) => <Words key={JSON.stringify(p)}>{probeWords(map, p).line}</Words>)}
      <Words at="small" colour="soft">{whyText(step)}</Words>
      {view.longLead && step.probes.some((p) => spans(map, p)) ? <Button label="No long lead here" kind="quiet" onPress={() => { record({ type: 'longLead', have: false }); onClose(); }} testID="no-long-lead" /> : null}
      {ready && step.probes[0] ? <Button label="Enter reading" kind="main" onPress={() => onEnter(step.probes[0] as Probe)} testID="enter-reading" /> : null}
    </Sheet>
  );
}

/** Do its leads stand at two points? */
const spans = (map: Installation, p: Probe): boolean => new Set([...p.from, ...p.to].map((k) => pointOfPlace(map, k))).size > 1;

function isDone(a: Action, state: WorkState): boolean {
  switch (a.do) {
    case 'open': return state.opened.includes(a.point);
    case 'takeOut': return a.ends.every((e) => state.out.includes(e));
    case 'putBack': return a.ends.every((e) => !state.out.includes(e));
    case 'switch': return state.off.includes(a.part) === a.off;
    case 'switchesOn': return a.ways.every((w) => state.on?.includes(w) === true);
    case 'unplug': return a.parts.every((part) => state.loadsOut.includes(part));
    case 'plugIn': return !a.parts.some((part) => state.loadsOut.includes(part));
    case 'link': return state.links.some((l) => l.id === linkKey(a.a, a.b));
    case 'unlink': return !state.links.some((l) => l.id === a.link);
  }
}
