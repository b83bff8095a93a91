import { useRef, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Choice, Field, Label, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useProfile } from '@/features/settings/useProfile';
import { useTheme } from '@/theme';
import { boardPart, findPoint, terminalKey, type Installation } from '@core/installation';
import { coreWords, spotName } from '@core/wording';
import type { VoltCheck } from '@core/job';
import { clashes } from '@core/profiles';
import { provingPairs } from '@core/safety';

interface Props {
  map: Installation;
  point: string;
  /** All ways may be proved as one, with their switches on. */
  mayJoin: boolean;
  /** A broken earth or neutral is possible: every terminal is read to an independent earth too. */
  toEarth: boolean;
  onDone: () => void;
  others: readonly { value: string; label: string }[];
  onPick: (point: string) => void;
}

/** Heights of a pair's row, and of what stands above the list, pixels. */
const PAIR_ROW = 46;
const HEAD = 120;

type Phase = 'prove' | 'pairs' | 'prove again';

/** Prove the indicator, read every pair, prove the indicator again. The meter gives the number; the person says it. */
export function ProvePoint({ map, point, mayJoin, toEarth, onDone, others, onPick }: Props) {
  const { record, view } = useJob();
  const { colour } = useTheme();
  const [profile] = useProfile();
  const [phase, setPhase] = useState<Phase>('prove');
  const [rod, setRod] = useState('');
  const [checks, setChecks] = useState<VoltCheck[]>([]);
  const [above, setAbove] = useState(false);
  const [picking, setPicking] = useState(false);
  const [none, setNone] = useState(false);
  const [waysOn, setWaysOn] = useState<boolean | null>(null);
  const list = useRef<ScrollView>(null);
  const asOne = mayJoin && waysOn === true;
  const terminals = findPoint(map, point)?.terminals ?? [];
  // A way's own terminals by conductor and way; bars by their name; elsewhere the letter.
  const isBoard = terminals.some((t) => t.id === 'W');
  const label = (t: string): string => {
    const terminal = terminals.find((x) => x.id === t);
    const part = terminal && boardPart(terminal);
    if (terminal?.name !== undefined) {
      // By number where one stands, and by the label that it goes by everywhere else.
      const way = part?.startsWith('way') ? spotName(map, terminalKey(point, t)) : terminal.name;
      return `${part === 'way line' ? `${terminal.role} of ` : part === 'way neutral' ? 'N of ' : ''}${terminal.name}${way === terminal.name ? '' : `, ${way}`}`;
    }
    return t === 'W' ? 'L of the way' : t === 'L' && isBoard ? 'L bar' : coreWords(t);
  };
  const pairs = [
    ...provingPairs(map, point, asOne).filter(([a, b]) => !isBoard || (a !== 'L' && b !== 'L')).map(([from, to]) => ({ from, to })),
    ...(toEarth ? terminals.filter((t) => (!isBoard || t.id !== 'L') && !/^L[123]?G/.test(t.id) && (!asOne || /^(E|N|L[123]?)$/.test(t.id))).map((t) => ({ from: 'rod', to: t.id })) : []),
  ];
  const at = pairs[checks.length];
  const words = (p: { from: string; to: string }): string => (p.from === 'rod' ? `${rod || 'independent earth'} to ${label(p.to)}` : `${label(p.from)} to ${label(p.to)}`);
  const say = (bleep: boolean): void => {
    if (!at) return;
    const next = [...checks, { ...at, volt: 0, bleep }];
    setChecks(next);
    if (next.length === pairs.length) setPhase('prove again');
    // The list follows the thumb.
    list.current?.scrollTo({ y: Math.max(0, next.length - 2) * PAIR_ROW + HEAD, animated: true });
  };
  const coloursOf = (t: string): string[] => {
    const role = terminals.find((x) => x.id === t)?.role;
    const c = role && profile.colours[role];
    return c ? [`${role}: ${c.now.join(' or ')}${c.before.length ? `, old ${c.before.join(' or ')}` : ''}`] : [];
  };
  const clash = clashes(profile, [...new Set(terminals.map((t) => t.role))]);
  const phases: readonly Phase[] = ['prove', 'pairs', 'prove again'];
  const names: Readonly<Record<Phase, string>> = { prove: 'Prove', pairs: 'Every pair', 'prove again': 'Prove again' };
  const key = view.secured?.key ?? '';
  return (
    <View style={{ flex: 1, maxWidth: 760 }}>
      <ScrollView ref={list} style={{ flex: 1 }} contentContainerStyle={{ padding: 18, gap: 12 }}>
        <View style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between' }}>
          <View style={{ flex: 1 }}>
            <Words at="title" bold role="heading" testID="prove-title">{findPoint(map, point)?.name ?? point}</Words>
            <Words>{`${map.shape === 'board' ? 'Main switch' : 'Way'} off and locked, key ${key}`}</Words>
          </View>
          <Button label="Another point" kind="quiet" onPress={() => setPicking(true)} />
        </View>
        <View style={{ flexDirection: 'row', gap: 8 }}>
          {phases.map((p) => {
            const done = phases.indexOf(p) < phases.indexOf(phase);
            const here = p === phase;
            return (
              <View key={p} style={{ flex: 1, minHeight: 44, borderRadius: 11, justifyContent: 'center', paddingHorizontal: 10, backgroundColor: here ? colour.ink : 'transparent', borderWidth: 1.5, borderColor: here ? colour.ink : done ? colour.settled : colour.edge, borderStyle: here || done ? 'solid' : 'dashed' }}>
                <Words bold colour={here ? 'paper' : done ? 'ink' : 'soft'}>{`${done ? '✓ ' : ''}${names[p]}`}</Words>
              </View>
            );
          })}
        </View>
        <View>
          {pairs.map((p, i) => {
            const check = checks[i];
            const here = phase === 'pairs' && i === checks.length;
            return (
              <View key={`${p.from}${p.to}`} style={{ minHeight: PAIR_ROW, flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', borderBottomWidth: 1, borderBottomColor: colour.hairline, backgroundColor: here ? colour.sheet : 'transparent', borderLeftWidth: here ? 6 : 0, borderLeftColor: colour.ink, paddingHorizontal: 10 }}>
                <Words bold={here}>{words(p)}</Words>
                <Words figure bold>{check ? (check.bleep ? '0 V, bleep' : '0 V') : ''}</Words>
              </View>
            );
          })}
        </View>
      </ScrollView>
      <View style={{ padding: 14, gap: 10, borderTopWidth: 1, borderTopColor: colour.hairline, backgroundColor: colour.paper }}>
        {phase === 'prove' ? (
          <>
            {toEarth ? <Caution>E or N may be broken here: 0 V between pairs alone proves nothing. Every terminal is also read to an earth of its own, a rod or a lead to real ground.</Caution> : <Caution>Taking a cover off is live work until this is done. Fingers stay out.</Caution>}
            {clash.length ? <Words at="small" bold testID="clash">{`${clash.join(', ')}: one conductor in new wiring, another in old. Colours prove nothing here.`}</Words> : null}
            {view.secured?.second ? <Words at="small" bold>{`A second supply was found (${view.secured.second}): read every pair as if it were on.`}</Words> : null}
            {toEarth ? <Field label="The independent earth" value={rod} onChange={setRod} placeholder="rod in the yard" testID="rod" /> : null}
            {toEarth ? <Button label="None here" small onPress={() => setNone(true)} testID="no-rod" /> : null}
            {mayJoin ? (
              <>
                <Label>The ways and RCDs are</Label>
                <Choice label="The ways and RCDs are" testID="ways-on" value={waysOn === null ? null : waysOn ? 'on' : 'off'} onChange={(v) => setWaysOn(v === 'on')} options={[{ value: 'on', label: 'All on' }, { value: 'off', label: 'Off, or some of them' }]} />
                {asOne ? <Words at="small">{`On, they join each line to its bar: ${pairs.length} pairs stand for every way. Switched off afterwards, a way stays as dead as it was.`}</Words> : null}
              </>
            ) : null}
            <Button label="Indicator works on the proving unit" onPress={() => setPhase('pairs')} disabled={(toEarth && !rod.trim()) || (mayJoin && waysOn === null)} testID="indicator-before" />
          </>
        ) : null}
        {phase === 'pairs' && at ? (
          <>
            <Words at="lead" bold testID="pair-question">{`${words(at)}: what does it read?`}</Words>
            <Words at="small" colour="soft" testID="pair-colours">{[at.from, at.to].flatMap((t) => coloursOf(t)).join(' · ')}</Words>
            <View style={{ flexDirection: 'row', gap: 8 }}>
              <Button label="0 V" grow onPress={() => say(false)} testID="zero" />
              <Button label="0 V, bleep" grow onPress={() => say(true)} />
              <Button label="Above 0 V" kind="danger" grow onPress={() => setAbove(true)} testID="above" />
            </View>
          </>
        ) : null}
        {phase === 'prove again' && asOne ? <Words at="small" bold testID="now-off">Then switch every way and RCD off: the board is read with them off.</Words> : null}
        {phase === 'prove again' ? (
          <Button label="Indicator still works: proved dead" testID="indicator-after" onPress={() => {
            // Metal that was read with an indicator is in sight: the cover is off.
            const uncovered = findPoint(map, point)?.reach !== 'face' && !view.state.opened.includes(point);
            record({ type: 'proved', point, checks, earthPlace: toEarth ? rod.trim() : '' }, ...(uncovered ? [{ type: 'opened' as const, point }] : []));
            onDone();
          }} />
        ) : null}
      </View>
      {above && at ? <NotDead words={words(at)} onClose={() => setAbove(false)} onVolt={(volt) => record({ type: 'notDead', point, from: at.from, to: at.to, volt }, { type: 'lapsed', why: 'not dead' })} /> : null}
      {none ? (
        <Sheet title="No earth of its own in reach" onClose={() => setNone(false)} testID="no-earth">
          <Caution>E or N may be broken here. Then 0 V between the point’s own terminals proves nothing, and it counts as live.</Caution>
          <Words>A long lead from a rod, or from real ground outside, does as well: say where it comes from. The installation’s own earth does not. Without one this point stays closed, no step is proposed there, and the report says why.</Words>
          <Button label="A long lead: say from where" kind="main" onPress={() => setNone(false)} testID="long-lead" />
          <Button label="Leave this point closed" onPress={() => {
            record({ type: 'cantReach', point, can: false, why: 'no independent earth in reach, so it cannot be proved dead' });
            onDone();
          }} testID="leave-closed" />
        </Sheet>
      ) : null}
      {picking ? (
        <Sheet title="Which point" onClose={() => setPicking(false)}>
          <Choice label="Point" value={point} onChange={(p) => { setPicking(false); onPick(p); }} options={others} />
        </Sheet>
      ) : null}
    </View>
  );
}

/** Not dead: say the number, stop, and what to do. */
function NotDead({ words, onClose, onVolt }: { words: string; onClose: () => void; onVolt: (volt: number) => void }) {
  const [text, setText] = useState('');
  const volt = Number(text.replace(',', '.'));
  const good = text.trim() !== '' && Number.isFinite(volt) && volt > 0;
  return (
    <Sheet title="Not dead" onClose={onClose} testID="not-dead">
      <Caution>Touch nothing. Step back, keep others away. Then look for the reason: the wrong way is off, another circuit’s neutral comes here, there is a second supply, or a low-impedance indicator shows it to be induced.</Caution>
      <Field label={`${words}, volts on the indicator`} value={text} onChange={setText} figure unit="V" keyboard="decimal-pad" testID="volt" />
      {text && !good ? <Words bold colour="danger">Type the volts as a number above 0.</Words> : null}
      <Button label="Record: not dead" kind="danger" disabled={!good} onPress={() => onVolt(volt)} testID="record-not-dead" />
      <Words>It can be left as it is. Tell the customer that the circuit stays off and is not proved dead.</Words>
    </Sheet>
  );
}
