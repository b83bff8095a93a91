import { useState } from 'react';
import { Button, Caution, Choice, Field, Problem, Sheet, Tick, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import type { LiveAsk } from '@/tester';
import { metalName, protectionsOf, residualDeviceOf } from '@core/installation';
import { beforeLive, putOn } from '@core/job';
import { rampOutgoing, type LiveTest } from '@core/live';
import { cautionsOf, type LiveDo } from '@core/safety';
import { deviceWords, liveCautionWords, liveStepTitle } from '@core/wording';
import { useLiveTester } from './useLiveTester';

/** The device alone, or what is left of it with everything running. */
export const rampWays = [{ value: 'out', label: 'Ways off' }, { value: 'in', label: 'With loads on' }] as const;

const NOT_A_NUMBER = 'Type the figure that the instrument shows.';

/** One live test: its cautions, then what it showed. Nothing is filled in beforehand. */
export function TestSheet({ step, onClose }: { step: LiveDo; onClose: () => void }) {
  const { view, record } = useJob();
  const tester = useLiveTester();
  const [text, setText] = useState('');
  const [tried, setTried] = useState(false);
  const [filtered, setFiltered] = useState(true);
  const [peak, setPeak] = useState(false);
  const [meter, setMeter] = useState<'low' | 'high'>('low');
  const [noTrip, setNoTrip] = useState(false);
  const [outgoing, setOutgoing] = useState<'out' | 'in'>(step.do === 'ramp' ? rampOutgoing(step.first) : 'out');
  const { map } = view;
  if (!map) return null;
  const { along, state } = beforeLive(map, view.state, step);
  const keep = (test: LiveTest): void => {
    record(...along, { type: 'liveRead', test: test.kind === 'closed' ? { ...test, ...putOn(step) } : test });
    onClose();
  };
  const value = text.trim() === '' ? NaN : Number(text.trim().replace(',', '.'));
  const figure = (make: (x: number) => LiveTest): void => {
    setTried(true);
    if (Number.isFinite(value) && value >= 0) keep(make(value));
  };
  const practice = (ask: LiveAsk): void => {
    if (tester) keep(tester.ask(ask, state));
  };
  const problem = tried && !(Number.isFinite(value) && value >= 0) ? <Problem text={NOT_A_NUMBER} /> : null;
  const practiceButton = (ask: LiveAsk) => (tester ? <Button label="Ask the practice tester" onPress={() => practice(ask)} testID="live-practice" /> : null);
  return (
    <Sheet title={liveStepTitle(map, step)} onClose={onClose} testID="live-sheet">
      <Caution>{cautionsOf(map, step).map((c) => liveCautionWords[c]).join(' ')}</Caution>
      {body()}
    </Sheet>
  );

  function body() {
    if (!map) return null;
    switch (step.do) {
      case 'close':
      case 'plugIn':
      case 'turnOn': {
        const own = protectionsOf(map).find((d) => d.id === step.device);
        const residual = residualDeviceOf(map, step.device);
        const may = [...new Set([residual?.id, own && own.kind !== 'main' ? own.id : undefined].filter((x): x is string => x !== undefined))];
        return (
          <>
            <Button label="It holds" onPress={() => keep({ kind: 'closed', device: step.device, result: 'holds', tripped: null })} testID="sheet-holds" />
            {may.map((d) => <Button key={d} label={`${deviceWords(map, d)} trips at once`} onPress={() => keep({ kind: 'closed', device: step.device, result: 'at once', tripped: d })} testID={`sheet-at-once-${d}`} />)}
            {may.map((d) => <Button key={`later ${d}`} label={`${deviceWords(map, d)} trips after a while`} onPress={() => keep({ kind: 'closed', device: step.device, result: 'after', tripped: d })} />)}
            {practiceButton({ kind: 'closed', device: step.device })}
          </>
        );
      }
      case 'works':
        return (
          <>
            <Button label="It works" onPress={() => keep({ kind: 'works', point: step.point, works: true })} testID="sheet-works" />
            <Button label="It is dead" onPress={() => keep({ kind: 'works', point: step.point, works: false })} testID="sheet-dead" />
            <Words at="small" colour="soft">Dead to the eye is not proved dead to the hand.</Words>
            {practiceButton({ kind: 'works', point: step.point })}
          </>
        );
      case 'ramp':
        return (
          <>
            {along.length ? <Words bold testID="close-first">It is off: close it first, then ramp.</Words> : null}
            <Choice label="What hangs on it" value={outgoing} onChange={setOutgoing} options={rampWays} />
            <Field label="Trips at, lower of both half-cycles" unit="mA" figure keyboard="decimal-pad" value={text} onChange={setText} testID="live-value" autoFocus />
            {problem}
            <Button label="Keep" kind="main" onPress={() => figure((mA) => ({ kind: 'ramp', device: step.device, mA, outgoing }))} testID="live-keep" />
            <Button label="It did not trip" onPress={() => keep({ kind: 'ramp', device: step.device, mA: null, outgoing })} />
            {practiceButton({ kind: 'ramp', device: step.device, outgoing })}
          </>
        );
      case 'clamp':
        return (
          <>
            <Field label="Current" unit="mA" figure keyboard="decimal-pad" value={text} onChange={setText} testID="live-value" autoFocus />
            <Tick label="50 Hz filter on" value={filtered} onChange={setFiltered} />
            <Tick label="Peak, while something starts" value={peak} onChange={setPeak} />
            {problem}
            <Button label="Keep" kind="main" onPress={() => figure((mA) => ({ kind: 'clamp', around: step.around, mA, filtered, peak }))} testID="live-keep" />
            {practiceButton({ kind: 'clamp', around: step.around, filtered, peak })}
          </>
        );
      case 'voltage':
        return (
          <>
            <Field label="Voltage" unit="V" figure keyboard="decimal-pad" value={text} onChange={setText} testID="live-value" autoFocus />
            <Choice label="Impedance" value={meter} onChange={setMeter} options={[{ value: 'low', label: 'Low impedance' }, { value: 'high', label: 'Multimeter' }]} />
            <Words at="small" colour="soft">An induced voltage falls away under a low impedance; a real one stays.</Words>
            {problem}
            <Button label="Keep" kind="main" onPress={() => figure((volt) => ({ kind: 'voltage', from: step.from, to: step.to, volt, meter }))} testID="live-keep" />
            {[step.from, step.to].some((k) => metalName(k) !== null) ? null : practiceButton({ kind: 'voltage', from: step.from, to: step.to, meter })}
          </>
        );
      case 'loop':
        return (
          <>
            <Field label="Loop impedance" unit="Ω" figure keyboard="decimal-pad" value={text} onChange={setText} testID="live-value" autoFocus />
            <Tick label="No-trip range: slower, less exact" value={noTrip} onChange={setNoTrip} />
            {problem}
            <Button label="Keep" kind="main" onPress={() => figure((ohm) => ({ kind: 'loop', from: step.from, to: step.to, ohm, noTrip }))} testID="live-keep" />
            {practiceButton({ kind: 'loop', from: step.from, to: step.to, noTrip })}
          </>
        );
    }
  }
}
