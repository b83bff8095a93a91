import { useEffect, useMemo, useState } from 'react';
import { Modal, Pressable, ScrollView, View } from 'react-native';
import { Button, Caution, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { testerFor, type TesterLink } from '@/tester';
import { useTheme } from '@/theme';
import { engineClient } from '@/worker/client';
import { likelierFigure, safetyOf, type Expected } from '@core/advice';
import { endsAtPoint, findPoint, findSection, parsePlace, pointOfPlace, roleOfPlace, sectionOfPlace, type Installation, type Section } from '@core/installation';
import { Condition } from '@core/job';
import type { Probe } from '@core/probes';
import { unmetNeeds } from '@core/safety';
import { isAbove, meter } from '@core/tester';
import { formatAmp, formatIn, formatMetres, formatOhm, ohmUnits, parseOhm, type OhmUnit } from '@core/units';
import { expectedWords, issueText, pointName, probeWords } from '@core/wording';
import { copperOhmPerM } from '@core/network';
import { stateWords } from './StateSheet';

interface Props { probe: Probe; onDone: (kept: boolean) => void; onState: () => void; retest?: string }

/** Big keys, the unit always in sight and said back. Nothing is filled in beforehand. */
export function ReadingPad({ probe: proposed, onDone, onState, retest }: Props) {
  const { view, file, advice, record } = useJob();
  const { colour, wide, flat, low, large, leftHand } = useTheme();
  const [fn, setFn] = useState(proposed.fn);
  const probe = useMemo(() => (fn === proposed.fn ? proposed : { ...proposed, fn }), [proposed, fn]);
  const insulation = fn === 'insulation';
  const last = view.readings.at(-1)?.event;
  const [text, setText] = useState('');
  const [unit, setUnit] = useState<OhmUnit>(insulation ? 'MΩ' : 'Ω');
  const [off, setOff] = useState(false);
  const [unsteady, setUnsteady] = useState(false);
  const [climbing, setClimbing] = useState(false);
  const [conditions, setConditions] = useState<Condition[]>(last?.conditions ?? ['dry']);
  const [expected, setExpected] = useState<Expected | null>(null);
  const [tester] = useState<TesterLink | null>(() => testerFor(file));
  const [tried, setTried] = useState(false);
  const [sure, setSure] = useState(false);
  /** Ohms chosen as the unit of an insulation test: which range was it? */
  const [whichRange, setWhichRange] = useState(false);
  const [more, setMore] = useState(false);
  // Asked again when the advice changes: a pad opened at once may be there before the engine knows the job.
  useEffect(() => {
    void engineClient().expect(file.id, probe).then(setExpected).catch(() => undefined);
  }, [file.id, probe, advice]);
  const { map } = view;
  const needs = map ? unmetNeeds(map, safetyOf(view), { actions: [], probes: [probe], earthDoubt: advice?.earthDoubt ?? true }) : [];
  const beforeProof = needs.some((n) => n.need !== 'loadsOut');
  const loads = needs.find((n) => n.need === 'loadsOut');
  // 500 V as is usual; 250 V where something is still in that 500 V would harm, until the person says otherwise.
  const [saidVolt, setVolt] = useState<250 | 500 | null>(null);
  const volt = saidVolt ?? (loads ? 250 : 500);
  const parsed = useMemo(() => parseOhm(text, unit), [text, unit]);
  const value = parsed.ok ? parsed.value : null;
  const doubtful = value !== null && !off && expected !== null ? likelierFigure(fn, value, expected) : null;
  const tooHigh = value !== null && !off && value > meter[probe.fn].topOhm * 1.05;
  if (!map) return null;
  const words = probeWords(map, probe);
  const type = (k: string): void => {
    setOff(false);
    setSure(false);
    setText((t) => (k === '⌫' ? t.slice(0, -1) : k === '.' && t.includes('.') ? t : (t + k).slice(0, 8)));
  };
  const problem = off ? null : !parsed.ok ? parsed.issues[0] : null;
  const keep = (): void => {
    setTried(true);
    if (problem || (!off && value === null)) return;
    if ((doubtful || tooHigh) && !sure) return setSure(true);
    const displayed = off ? { above: meter[probe.fn].topOhm } : { ohm: value as number };
    record({ type: 'read', probe, displayed, unit, ...(off ? {} : { typed: text }), conditions, testVolt: insulation ? volt : null, unsteady, climbing, beforeProof, retest: retest ?? null });
    onDone(true);
  };
  const choose = (to: Probe['fn'], atVolt: 250 | 500 | null): void => {
    if (to !== fn) setUnit(to === 'insulation' ? 'MΩ' : 'Ω');
    setFn(to);
    setVolt(atVolt);
    setSure(false);
    setWhichRange(false);
  };
  const practice = (): void => {
    if (!tester) return;
    const shown = tester.read(view.state, probe);
    setSure(false);
    if (isAbove(shown)) {
      setOff(true);
      setText('');
      return;
    }
    const best: OhmUnit = insulation ? (shown.ohm >= 1e4 ? 'MΩ' : shown.ohm >= 1000 ? 'kΩ' : 'MΩ') : shown.ohm >= 1000 ? 'kΩ' : 'Ω';
    setOff(false);
    setUnit(best);
    setText(formatIn(shown.ohm, best).split(' ')[0] ?? '');
  };
  const keyPx = low ? 45 : 52;
  const key = (k: string, flex = 1) => (
    <Pressable key={k} role="button" aria-label={k === '⌫' ? 'Delete' : k} testID={`key-${k}`} onPress={() => type(k)}
      style={({ pressed }) => ({ flex, minHeight: keyPx, borderRadius: 11, borderWidth: 1.5, borderColor: colour.edge, backgroundColor: pressed ? colour.hairline : colour.sheet, alignItems: 'center', justifyContent: 'center' })}>
      <Words at={large ? 'lead' : 'title'} bold figure>{k}</Words>
    </Pressable>
  );
  const mark = (label: string, on: boolean, press: () => void, id: string) => <Button key={label} label={label} small={large} kind={on ? 'chosen' : 'plain'} onPress={press} testID={id} style={{ ...(large ? { flexGrow: 1, flexBasis: '45%' } : { flex: 1.2 }), minHeight: keyPx, paddingHorizontal: 4 }} />;
  const nothing = <Button key="0.00" label="0.00" figure small={large} onPress={() => { setOff(false); setText('0.00'); }} style={large ? { flex: 1, paddingHorizontal: 2 } : { minWidth: 78 }} />;
  const marks = [
    mark('> top', off && insulation, () => { setOff(true); setText(''); }, 'key-top'), mark('no path', off && !insulation, () => { setOff(true); setText(''); }, 'key-no-path'),
    mark('unsteady', unsteady, () => setUnsteady(!unsteady), 'key-unsteady'), mark('climbing', climbing, () => setClimbing(!climbing), 'key-climbing'),
  ];
  const line = { flexDirection: 'row', gap: low ? 6 : 8 } as const;
  const functions = (
    <View style={line} role="radiogroup" aria-label="Function of the meter">
      {([['continuity', null, 'Ω'], ['insulation', 500, 'MΩ 500 V'], ['insulation', 250, 'MΩ 250 V']] as const).map(([to, atVolt, label]) => {
        const on = fn === to && (atVolt === null || atVolt === volt);
        return <Button key={label} label={label} figure kind={on ? 'chosen' : 'plain'} onPress={() => choose(to, atVolt)} style={{ flex: 1, minHeight: 44, paddingHorizontal: 4 }} testID={`fn-${atVolt ?? 'ohms'}`} />;
      })}
    </View>
  );
  const above = (
    <>
      <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', gap: 8 }}>
        <Words at="lead" bold role="heading" style={{ flex: 1 }} testID="pad-title">{words.line}</Words>
        <Button label="Close" kind="quiet" onPress={() => onDone(false)} />
      </View>
      {tried && problem ? <Words bold colour="danger" role="alert" testID="pad-problem">{issueText(problem)}</Words> : null}
      {beforeProof ? <Caution testID="before-proof">{`Not made dead: ${needs.flatMap((n) => (n.need === 'proved' ? [pointName(map, n.point)] : n.need === 'secured' ? ['circuit not secured'] : [])).join(', ')}. If it was read already it can be kept, and the report will say so.`}</Caution> : null}
      {insulation && loads ? <Caution testID="volt-caution">{volt === 500 ? '500 V harms electronics that are still in. Take them out, or test at 250 V.' : `250 V: ${loads.parts.length === 1 ? 'a load is' : `${loads.parts.length} loads are`} still in that 500 V would harm. Out of the circuit, it is tested at 500 V.`}</Caution> : null}
      {sure && (doubtful || tooHigh) ? <Caution testID="doubtful">{tooHigh ? `That is beyond the top of this range, ${formatOhm(meter[probe.fn].topOhm)}. Off scale? If the meter does show it, keep it.` : `${formatOhm(value ?? 0)} said back: expected about ${formatOhm(doubtful ?? 0)}. Is the unit right? If it is, keep it.`}</Caution> : null}
      <View style={line}>
        <Pressable role="button" aria-label={`Conditions: ${conditions.join(', ')} · ${stateWords(view)}`} testID="conditions" onPress={() => setMore(!more)} style={{ flex: 1, minHeight: 48, borderWidth: 1.5, borderColor: colour.edge, borderRadius: 11, justifyContent: 'center', paddingHorizontal: 12 }}>
          <Words at="small" lines={2}>{`${conditions.join(', ')} · ${stateWords(view)}`}</Words>
        </Pressable>
        <Button label="State" onPress={onState} />
        {tester ? <Button label="Practice tester" small onPress={practice} testID="practice" style={{ maxWidth: 96 }} /> : null}
      </View>
      {large ? null : functions}
      {whichRange ? (
        <View style={{ gap: 6 }} testID="which-range">
          <Caution>Ohms: was it read on the ohms range? An insulation test at {volt} V is another test, and the report says which was made.</Caution>
          <View style={line}><Button label="Ohms range" grow onPress={() => choose('continuity', null)} testID="range-ohms" /><Button label={`Insulation, ${volt} V`} grow onPress={() => setWhichRange(false)} testID="range-insulation" /></View>
        </View>
      ) : null}
      {more ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 6 }}>
          {Condition.options.map((c) => <Button key={c} small label={c} kind={conditions.includes(c) ? 'chosen' : 'plain'} onPress={() => setConditions(conditions.includes(c) ? conditions.filter((x) => x !== c) : [...conditions.filter((x) => !(c === 'dry' && x === 'damp') && !(c === 'damp' && x === 'dry')), c])} />)}
        </View>
      ) : null}
    </>
  );
  const display = (
    <View style={{ borderWidth: 2.5, borderColor: colour.ink, borderRadius: 12, padding: 6, flexDirection: 'row', alignItems: 'center', gap: 6 }}>
      <Words figure bold at="big" style={{ flex: 1, minWidth: large ? 0 : 96, paddingLeft: 6, fontSize: off || (large && text.length > 4) ? 22 : 30 }} testID="pad-value">{off ? (insulation ? '> 999' : 'no path') : text}</Words>
      {ohmUnits.map((u) => <Button key={u} label={u} figure kind={u === unit ? 'chosen' : 'plain'} onPress={() => { setUnit(u); setSure(false); setWhichRange(insulation && u === 'Ω'); }} style={{ minWidth: 50, paddingHorizontal: 4 }} testID={`unit-${u}`} />)}
    </View>
  );
  const says = (
    <View style={{ flexDirection: 'row', justifyContent: 'space-between', gap: 8, minHeight: 22 }}>
      <Words at="small" colour="soft" style={{ flexShrink: 1 }}>{expected ? foreseen(probe.fn, expected) : ''}</Words>
      <Words at="small" bold align="right" testID="echo">{value !== null && !off ? echo(value, probe, map, csaAt(view.map, probe)) : ''}</Words>
    </View>
  );
  // On a phone on its side large words leave the keys a column of their own.
  const marksBelow = <View style={{ ...line, flexWrap: 'wrap' }}>{marks}</View>;
  const keys = (
    <>
      {large && !flat ? marksBelow : null}
      {['789', '456', '123', '.0⌫'].map((keysOfRow, i) => <View key={keysOfRow} style={line}>{[...keysOfRow].map((k) => key(k))}{large ? (i === 3 ? nothing : null) : marks[i]}</View>)}
      <View style={{ ...line, flexDirection: leftHand ? 'row-reverse' : 'row' }}>
        {large ? null : nothing}
        <Button label={sure ? 'Keep it so' : beforeProof ? 'Keep, before proof' : 'Keep reading'} kind="main" grow onPress={keep} testID="keep" />
      </View>
    </>
  );
  return (
    <Modal transparent visible aria-label={`Reading ${words.line}`} onRequestClose={() => onDone(false)} animationType="none">
      <View style={{ flex: 1, justifyContent: wide ? 'center' : 'flex-end', alignItems: wide ? 'center' : 'stretch' }}>
        <Pressable aria-hidden tabIndex={-1} onPress={() => onDone(false)} style={{ position: 'absolute', top: 0, bottom: 0, left: 0, right: 0, backgroundColor: colour.veil, opacity: 0.4 }} />
        <View testID="pad" style={{ backgroundColor: colour.sheet, borderRadius: 16, borderWidth: 1.5, borderColor: colour.edge, padding: flat && large ? 5 : low ? 10 : 12, gap: low ? 6 : 8, width: wide ? 460 : undefined, maxHeight: '100%' }}
          {...({ onKeyDown: (e: { key: string; target: unknown }) => {
            if (/^[0-9.]$/.test(e.key)) type(e.key);
            else if (e.key === 'Backspace') type('⌫');
            else if (e.key === 'Enter' && (e.target as HTMLElement).getAttribute('role') !== 'button') keep();
          } })}>
          {flat ? (
            <View style={{ flexDirection: leftHand ? 'row-reverse' : 'row', gap: 14, flexShrink: 1, minHeight: 0 }}>
              <ScrollView style={{ flex: 1 }} contentContainerStyle={{ gap: 8 }}>{above}{large ? <>{functions}{marksBelow}</> : null}{says}</ScrollView>
              <View style={{ flex: 1, gap: large ? 4 : 6 }}>{display}{keys}</View>
            </View>
          ) : low || large ? <><ScrollView style={{ flexShrink: 1 }} contentContainerStyle={{ gap: 6 }}>{above}{says}</ScrollView>{large ? functions : null}{display}{keys}</> : <>{above}{display}{says}{keys}</>}
        </View>
      </View>
    </Modal>
  );
}

/** What the value means at once: what mains would drive from line through it, or how many metres of the cable there would have it. */
function echo(ohm: number, probe: Probe, map: Installation, csa: number | null): string {
  const said = formatOhm(ohm);
  // Nothing on an insulation range is anything up to half its last digit.
  if (ohm === 0) return probe.fn === 'insulation' ? `under ${formatOhm(meter.insulation.digitOhm(0) / 2)}: read ohms` : said;
  if (probe.fn === 'continuity') return csa !== null && ohm < 10 ? `${said}: as ${formatMetres(ohm / copperOhmPerM(csa, false))} of ${csa} mm²` : said;
  // The last digit is what the display cannot tell: near nothing it is anything between two figures, and so is the current.
  const half = meter.insulation.digitOhm(ohm) / 2;
  const [least, most] = [Math.max(ohm - half, half), ohm + half];
  const wide = most >= 1.2 * least;
  const size = wide ? `${formatOhm(least)} to ${formatOhm(most)}` : said;
  const { digits } = meter.insulation;
  // A meter may be some digits off besides: where that reaches down to nothing, only ohms tell it from a dead short.
  const orLess = ohm <= 2 * half * (digits + 0.5) ? '; may be a short: read ohms' : '';
  const roles = [...probe.from, ...probe.to].map((k) => roleOfPlace(map, k));
  if (roles.every((r) => r === 'N' || r === 'E')) return `${size}${orLess}`;
  const volt = map.nominalVolt;
  return `${wide ? `${size}: ${formatAmp(volt / most)} to ${formatAmp(volt / least)}` : `${said} = ${formatAmp(volt / ohm)}`} at ${volt} V${orLess}`;
}

/** What sound wiring shows, and the leading suspect where it would show something else. */
function foreseen(fn: Probe['fn'], { sound, suspect }: Expected): string {
  const [ifSound, byLeading] = [expectedWords(fn, sound), suspect === null ? null : expectedWords(fn, suspect)];
  if (byLeading === ifSound) return `exp. ${ifSound}, if sound and by the leading suspect`;
  return `exp. ${ifSound} if sound${byLeading === null ? '' : `, ${byLeading} by the leading suspect`}`;
}

/** Size of the conductor when both leads are on one lane, of the cables where they are; null where these differ or are not known. */
function csaAt(map: Installation | null, probe: Probe): number | null {
  if (!map) return null;
  const places = [probe.from[0] ?? '', probe.to[0] ?? ''];
  const [role, other] = places.map((k) => roleOfPlace(map, k));
  // From an end to the bar beside it lies no cable, nor from one end to another at a point of the circuit.
  const [at, to] = places.map((k) => pointOfPlace(map, k));
  if (role !== other || (at === to && (findPoint(map, at ?? '')?.kind !== 'board' || places.some((k) => parsePlace(k)?.at !== 'end')))) return null;
  const here = (k: string): Section[] => {
    const [section, point] = [findSection(map, sectionOfPlace(map, k)), findPoint(map, pointOfPlace(map, k))];
    return section ? [section] : point && point.kind !== 'board' ? endsAtPoint(map, point.id).map((e) => e.section) : [];
  };
  const sizes = new Set(places.flatMap(here).map((s) => s.cores.find((c) => c.role === role)?.csaMm2 ?? null));
  const [csa] = sizes;
  return sizes.size === 1 && csa !== undefined ? csa : null;
}
