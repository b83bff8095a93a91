import { useRouter } from 'expo-router';
import { useState, type ReactElement } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Choice, Field, HoldButton, Label, RowButton, Sheet, Tick, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { GuessedPlate } from '@/features/map/GuessedPlate';
import { PutBackRow } from '@/features/trace/StateSheet';
import { useProfile } from '@/features/settings/useProfile';
import { ReadingPad } from '@/features/trace/ReadingPad';
import { useTheme } from '@/theme';
import { leakNotFound, type HazardView, type SuspectView } from '@core/advice';
import { formatShare } from '@core/units';
import { boardOf } from '@core/installation';
import { FAILS, firstDo, loadsToTakeOut, NO_RCD, NO_TRIP, parseLiveFigure, proofOf, retestResults, unitOf, type FigureRetest, type RetestResult } from '@core/retest';
import { placeNames } from '@core/planning';
import { putBackList, type Need, type PutBackItem } from '@core/safety';
import { readingWords, explainsText, firstDoWords, hazardWords, issueText, retestExpected, retestTitle, suspectTitle, unplugWords } from '@core/wording';
import { isFault, suspectsOf } from '@core/faults';
import type { JobView } from '@core/job';
import { behindCovers, RetestNeeds, retestNeeds } from './RetestNeeds';

/** Share from which a suspect is offered for mending; and of its place, from which it counts as found. */
const WORTH_MENDING = 0.1;
const FOUND = 0.5;

/** Mend or leave safe, put everything back, prove it: expected values first, before and after. */
export function RightScreen() {
  const { view, advice, file, record } = useJob();
  const router = useRouter();
  const [mending, setMending] = useState<SuspectView | null>(null);
  const [retesting, setRetesting] = useState<RetestResult | null>(null);
  const [skipping, setSkipping] = useState<RetestResult | null>(null);
  const [handsOff, setHandsOff] = useState(false);
  const [known, setKnown] = useState(false);
  const [profile] = useProfile();
  const { map } = view;
  if (!map) return <JobFrame stage="right"><Words style={{ padding: 18 }}>No circuit is drafted yet.</Words></JobFrame>;
  const list = putBackList(map, view.state, view.secured !== null);
  const people = view.secured?.people ?? null;
  const gates = list.filter((i) => i.gatesPower);
  const results = retestResults(view, profile);
  const waiting = results.map((r) => (r.verdict !== 'met' && r.item.probe && !firstDo(map, r.item, view.state) ? retestNeeds(map, view, r.item.probe, advice?.earthDoubt ?? true) : []));
  const leading = waiting.findIndex((needs, i) => needs.length > 0 && results[i]?.verdict !== 'not done');
  const failed = results.some((r) => r.verdict === 'not met');
  const unplugging = results.find((r) => stillIn(view, r).length > 0);
  const proof = proofOf(view, profile);
  const names = new Map(suspectsOf(map).map((s) => [s.id, suspectTitle(map, s)]));
  // Found is what readings speak for, at a place that is likelier than all others together; the rest is only not ruled out.
  const since = view.mends.at(-1)?.event.at ?? 0;
  const readSince = view.readings.some((r) => r.event.at > since);
  const mended = (s: SuspectView): boolean => !readSince && view.mends.some((m) => m.event.suspect === s.id);
  const worth = (advice?.suspects ?? []).filter((s) => isFault(s) && s.share >= WORTH_MENDING && !mended(s)).slice(0, 4);
  const name = placeNames(map);
  const placeShare = (s: SuspectView): number => (advice?.two ? 1 : (advice?.places.find((p) => p.place === name(s.place))?.share ?? 0));
  const found = worth.filter((s) => s.speakFor.length && placeShare(s) >= FOUND);
  const possible = worth.filter((s) => !found.includes(s));
  const toMend = (s: SuspectView): ReactElement => (
    <RowButton key={s.id} testID={`mend-${s.id}`} label={`Mend ${suspectTitle(map, s)}`} onPress={() => setMending(s)}>
      <View style={{ flex: 1 }}>
        <Words bold>{suspectTitle(map, s)}</Words>
        <Words at="small" colour="soft">{explainsText(map, s.explains)}</Words>
      </View>
      <Words bold>Mend</Words>
    </RowButton>
  );
  // What a retest is still read behind or without goes back after it.
  const readBehind = new Set(results.flatMap((r) => (r.item.probe && (r.verdict === 'open' || r.verdict === 'not met') ? behindCovers(map, view, r.item.probe) : [])));
  const loadsStayOut = results.some((r) => r.verdict === 'open' && r.item.when === 'rejoined, loads out');
  const waits = (i: PutBackItem): boolean => (i.kind === 'cover' && readBehind.has(i.point)) || (i.kind === 'load' && loadsStayOut);
  const toPutBack = (i: PutBackItem): ReactElement => (
    <View key={i.item} style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
      <View style={{ flex: 1, minWidth: 220 }}><PutBackRow item={i} /></View>
      {i.kind !== 'lock' && !view.leftSafe.some((l) => l.item === i.item) ? <LeaveSafe item={i.item} /> : null}
      {view.leftSafe.filter((l) => l.item === i.item).map((l) => <Words key={l.id} at="small">{`left safe: ${l.why}`}</Words>)}
    </View>
  );
  const hazards = advice?.hazards ?? [];
  const leaks = leakNotFound(view) !== null;
  const canClose = list.filter((i) => i.kind !== 'lock').every((i) => view.leftSafe.some((l) => l.item === i.item));
  return (
    <JobFrame stage="right">
      <ScrollView contentContainerStyle={{ padding: 18, gap: 12, maxWidth: 860, width: '100%', paddingBottom: 40 }}>
        <Words at="title" bold role="heading">Put right</Words>
        {view.mends.map((m) => <Words key={m.event.id} testID="mended">{`✓ ${names.get(m.event.suspect) ?? m.event.suspect}: ${m.event.how}${m.event.text ? `, ${m.event.text}` : ''}`}</Words>)}
        <Label>What was found</Label>
        {found.map(toMend)}
        {failed && !found.length ? <Words bold testID="still-wrong">A retest is not met: something is still wrong. No single place stands out yet; Trace goes on from what was read.</Words> : null}
        {failed && !found.length ? <Button label="Go on in Trace" onPress={() => router.replace(`/job/${file.id}/trace`)} testID="back-to-trace" /> : null}
        {leaks ? <Caution testID="leak-owed">Volts were read on the earth that was mended: something leaks to it, and is not found yet. Before power, read L–E and N–E there with the loads in.</Caution> : null}
        {found.length || failed || leaks ? null : <Words colour="soft">{view.mends.length ? 'Nothing else stands out.' : advice?.verdict.says === 'sound' || advice?.verdict.says === 'enough' ? 'Nothing was found.' : 'No suspect stands out yet. Trace first.'}</Words>}
        {possible.length ? <Label>Not found, but still possible</Label> : null}
        {possible.map(toMend)}

        <Label>Put-back list</Label>
        {list.length ? null : <Words>✓ Nothing is left to put back.</Words>}
        {list.filter((i) => !waits(i)).map(toPutBack)}

        {results.length ? <Label>Retests owed</Label> : null}
        {results.map((r, i) => <RetestRow key={r.item.id} result={r} needs={waiting[i] ?? []} leads={i === leading} unplug={r === unplugging ? stillIn(view, r) : []} onRead={() => setRetesting(r)} onSkip={() => setSkipping(r)} />)}

        {list.some(waits) ? <Label>Then put back</Label> : null}
        {list.filter(waits).map(toPutBack)}

        <Label>Power</Label>
        {view.energised ? <Words>Power is on. Dead steps are closed until it is made dead again.</Words> : !view.everSecured && !view.state.opened.length ? <Words testID="never-dead">Nothing was made dead here: power is as it was found.</Words> : gates.length ? (
          <Caution testID="power-gate">{`Power stays off: ${gates.length} ${gates.length === 1 ? 'thing is' : 'things are'} still to put back.${gates.some((g) => g.kind === 'link') ? ' A test link left in means an explosion.' : ''}`}</Caution>
        ) : (
          <>
            {people ? <Tick label={`${people.hands} said “hands off”; ${people.board} switches`} value={handsOff} onChange={setHandsOff} testID="hands-off" /> : null}
            {hazards.length && !known ? <PowerHazards hazards={hazards} onKnown={(because) => { record({ type: 'noted', text: `Power on with these still possible: ${hazards.map((h) => suspectTitle(map, h)).join('; ')}. Known, because ${because}.`, severity: 'danger' }); setKnown(true); }} /> : null}
            <HoldButton danger label="Lock off, power on" disabled={(people !== null && !handsOff) || (hazards.length > 0 && !known)} onHeld={() => record({ type: 'energised' })} testID="power-on" />
          </>
        )}

        <Label>Proof</Label>
        <Words bold testID="proof">{proof === 'proved' ? '✓ Proved: every retest was met.' : proof === 'nothing mended' ? 'Nothing is mended yet.' : unproved(results)}</Words>
        {view.status === 'open' ? (
          <>
            {canClose ? null : <Words at="small">The job closes when the put-back list is empty, or each thing on it is recorded as left safe.</Words>}
            <View style={{ flexDirection: 'row', gap: 8 }}>
              <Button label="Leave safe" grow disabled={!canClose} onPress={() => record({ type: 'closed', state: 'left safe' })} />
              <Button label="Close the job" grow disabled={!canClose} onPress={() => record({ type: 'closed', state: 'closed' })} testID="close-job" />
            </View>
          </>
        ) : <Button label="Open the job again" onPress={() => record({ type: 'reopened' })} />}
        <Button label="Hand over" kind="main" onPress={() => router.replace(`/job/${file.id}/over`)} testID="to-over" />
      </ScrollView>
      {mending ? <MendSheet suspect={mending} onClose={() => setMending(null)} /> : null}
      {retesting?.item.probe ? <ReadingPad probe={retesting.item.probe} retest={retesting.item.id} onDone={() => setRetesting(null)} onState={() => undefined} /> : null}
      {skipping ? <ByHand result={skipping} onClose={() => setSkipping(null)} /> : null}
    </JobFrame>
  );
}

/** Why the repairs are not proved. */
function unproved(results: readonly RetestResult[]): string {
  const count = (verdict: RetestResult['verdict'], word: string): string[] => {
    const n = results.filter((r) => r.verdict === verdict).length;
    return n ? [`${n} ${n === 1 ? 'retest is' : 'retests are'} ${word}`] : [];
  };
  return `Not proved: ${[...count('not met', 'not met'), ...count('open', 'open'), ...count('not done', 'not done')].join(', ')}.`;
}

/** What is still possible and would be dangerous with power on: mended, left safe, or answered for in words. */
function PowerHazards({ hazards, onKnown }: { hazards: readonly HazardView[]; onKnown: (because: string) => void }) {
  const { view } = useJob();
  const [because, setBecause] = useState('');
  const { map } = view;
  if (!map) return null;
  return (
    <View style={{ gap: 8 }} testID="power-hazards">
      <Caution>Power stays off while these are possible. Mend them, read what rules them out, or leave the part off and safe.</Caution>
      {hazards.map((h) => <Words key={h.id}>{`${formatShare(h.share)} ${suspectTitle(map, h)}: ${hazardWords[h.does]}.`}</Words>)}
      <Field label="I know, because" value={because} onChange={setBecause} testID="hazard-because" />
      <Button label="Record it, and allow power" disabled={!because.trim()} onPress={() => onKnown(because.trim())} testID="hazard-known" />
    </View>
  );
}

function LeaveSafe({ item }: { item: string }) {
  const { record } = useJob();
  const [why, setWhy] = useState<string | null>(null);
  if (why === null) return <Button label="Leave safe" small onPress={() => setWhy('')} style={{ maxWidth: 84 }} />;
  const keep = (): void => {
    if (why.trim()) record({ type: 'leftSafe', item, why: why.trim() });
    setWhy(null);
  };
  return (
    <View style={{ gap: 6, flexBasis: '100%' }}>
      <Field label="How it is left safe (in a connector, blanked, locked)" value={why} onChange={setWhy} onSubmit={keep} />
      <Button label="Record: left safe" onPress={keep} disabled={!why.trim()} />
    </View>
  );
}

/** What must be unplugged before a retest is read, or read again. */
function stillIn(view: JobView, { item, loadsIn, verdict }: RetestResult): string[] {
  if (!view.map || verdict === 'met') return [];
  const again = (loadsIn ?? []).filter((k) => !view.state.loadsOut.includes(k));
  return again.length ? again : firstDo(view.map, item, view.state) === 'loads out' ? loadsToTakeOut(view.map, item, view.state) : [];
}

function RetestRow({ result, needs, leads, unplug, onRead, onSkip }: { result: RetestResult; needs: readonly Need[]; /** The way to what it needs is offered here. */ leads: boolean; /** Offered at the first row that waits for it. */ unplug: readonly string[]; onRead: () => void; onSkip: () => void }) {
  const { view, record } = useJob();
  const { colour } = useTheme();
  const [profile] = useProfile();
  const { map } = view;
  if (!map) return null;
  const { item, reading, before, verdict } = result;
  const board = boardOf(map)?.id ?? '';
  const atBoard = view.secured !== null && view.state.opened.includes(board) && view.proofs.has(board);
  const after = reading ? readingWords(reading.event) : item.live ? result.because : '';
  const first = firstDo(map, item, view.state);
  const plugged = (result.loadsIn ?? []).some((k) => !view.state.loadsOut.includes(k));
  return (
    <View testID={`retest-${item.id}`} style={{ borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingVertical: 8, gap: 4 }}>
      <View style={{ flexDirection: 'row', gap: 10, justifyContent: 'space-between' }}>
        <Words bold style={{ flex: 1 }}>{retestTitle(map, item)}</Words>
        {verdict === 'not done' ? null : <Words bold colour={verdict === 'met' ? 'ink' : verdict === 'not met' ? 'danger' : 'soft'}>{verdict === 'met' ? (result.because === NO_RCD ? '✓ none here' : '✓ met') : verdict}</Words>}
      </View>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: 14 }}>
        <Words figure>{retestExpected(view, item, profile)}</Words>
        {before ? <Words figure>{`before ${readingWords(before.event)}`}</Words> : null}
        {after && after !== NO_RCD ? <Words figure bold>{item.live ? after : `after ${after}`}</Words> : null}
        {verdict === 'not done' ? <Words bold colour="soft">{`not done, because ${result.because}`}</Words> : null}
      </View>
      {result.onGuess === undefined ? null : <GuessedPlate device={result.onGuess} />}
      {(verdict === 'met' || result.onGuess !== undefined) && item.live ? <Button label="Correct the figure" small kind="quiet" onPress={onSkip} testID={`correct-${item.id}`} /> : null}
      {verdict === 'met' || result.onGuess !== undefined ? null : (
        <View style={{ flexDirection: 'row', gap: 8 }}>
          {item.probe ? <Button label="Read" grow disabled={first !== null || needs.length > 0} onPress={onRead} testID={`read-${item.id}`} /> : <Button label="Enter by hand" grow onPress={onSkip} testID={`hand-${item.id}`} />}
          {item.probe ? <Button label="Not done" grow onPress={onSkip} /> : null}
        </View>
      )}
      {item.probe && first && verdict !== 'met' ? <Words at="small" colour="soft">{firstDoWords[first]}</Words> : null}
      {needs.length ? <RetestNeeds map={map} needs={needs} id={item.id} leads={leads} /> : null}
      {first === 'switches on' && verdict !== 'met' ? <Button label="The switches are on" onPress={() => record(...item.through.filter((part) => view.state.off.includes(part)).map((part) => ({ type: 'switched' as const, part, off: false })))} testID={`switches-on-${item.id}`} /> : null}
      {plugged ? <Words bold testID={`plugged-${item.id}`}>Something may still be plugged in or switched on in this circuit, and would show so. Take it out and read again.</Words> : null}
      {unplug.length ? <HoldButton label={unplugWords(map, unplug)} onHeld={() => record({ type: 'loadsMoved', parts: [...unplug], out: true })} testID={`loads-out-${item.id}`} /> : null}
      {first === 'legs out' && verdict !== 'met' && atBoard ? <HoldButton label="Both legs are out" onHeld={() => record({ type: 'tookOut', point: board, ends: [...(item.legs ?? [])] })} testID={`legs-out-${item.id}`} /> : null}
    </View>
  );
}

const figureLabels: Readonly<Record<FigureRetest, string>> = { loop: 'Loop impedance line to earth, in Ω', rcd: 'Slower half-cycle at the rated current, in ms', ramp: 'Lower half-cycle at which it tripped, in mA', clamp: 'Round line and neutral together, in mA' };

/** A live result by hand, as a figure with its unit, or the reason why a test was not done. */
function ByHand({ result, onClose }: { result: RetestResult; onClose: () => void }) {
  const { view, record } = useJob();
  const { map } = view;
  const [value, setValue] = useState('');
  const [error, setError] = useState<string | null>(null);
  const [because, setBecause] = useState('');
  if (!map) return null;
  const { live } = result.item;
  const id = live ? result.item.key : result.item.id;
  const keep = (kept: string): void => {
    record({ type: 'liveTest', test: id, result: kept, because: null });
    onClose();
  };
  const keepFigure = (test: FigureRetest): void => {
    const figure = parseLiveFigure(test, value);
    if (!figure.ok) setError(figure.issues.map(issueText).join(' '));
    else keep(/[^\d.,\s]/.test(value) ? value.trim() : `${value.trim()} ${unitOf[test]}`);
  };
  return (
    <Sheet title={retestTitle(map, result.item)} onClose={onClose}>
      {live ? <Caution>Live test: covers on, the right probes, no test link and no bare end left.</Caution> : null}
      {live === 'function' ? (
        <>
          <Button label="Works as it should" kind="main" onPress={() => keep('works as it should')} testID="function-works" />
          <Field label="What does not work" value={value} onChange={setValue} testID="live-result" />
          <Button label="Keep: it does not work" disabled={!value.trim()} onPress={() => keep(`${FAILS}: ${value.trim()}`)} testID="keep-live" />
        </>
      ) : live === 'half' ? (
        <>
          <Button label="Did not trip" kind="main" onPress={() => keep(NO_TRIP)} testID="no-trip" />
          <Button label="It tripped" onPress={() => keep('tripped')} testID="tripped" />
        </>
      ) : live ? (
        <>
          <Field label={figureLabels[live]} value={value} onChange={(v) => { setValue(v); setError(null); }} testID="live-result" />
          {live === 'rcd' && map.shape !== 'board' ? <Button label="There is no RCD on this circuit" onPress={() => keep(NO_RCD)} testID="no-rcd" /> : null}
          {live === 'rcd' || live === 'ramp' ? <Button label="It did not trip" onPress={() => keep(NO_TRIP)} testID="no-trip" /> : null}
          {error ? <Words colour="danger" role="alert">{error}</Words> : null}
          <Button label="Keep the figure" disabled={!value.trim()} onPress={() => keepFigure(live)} testID="keep-live" />
        </>
      ) : null}
      <Field label="Not done, because" value={because} onChange={setBecause} testID="because" />
      <Button label="Record: not done" disabled={!because.trim()} onPress={() => { record({ type: 'liveTest', test: id, result: null, because: because.trim() }); onClose(); }} testID="keep-because" />
    </Sheet>
  );
}

function MendSheet({ suspect, onClose }: { suspect: SuspectView; onClose: () => void }) {
  const { view, record } = useJob();
  const [how, setHow] = useState<'repaired' | 'replaced' | 'left safe'>('repaired');
  const [text, setText] = useState('');
  const [explains, setExplains] = useState<'yes' | 'no' | 'not sure' | null>(suspect.explains.says === 'yes' || suspect.explains.says === 'no' ? suspect.explains.says : suspect.explains.says === 'while' ? 'yes' : 'not sure');
  const { map } = view;
  if (!map) return null;
  return (
    <Sheet title={suspectTitle(map, suspect)} onClose={onClose} testID="mend-sheet" footer={<Button label="Record it" kind="main" disabled={explains === null} testID="record-mend" onPress={() => {
      record({ type: 'mended', suspect: suspect.id, place: suspect.place, how, text: text.trim(), explains: explains ?? 'not sure' });
      onClose();
    }} />}>
      <Label>Does it explain what was complained of?</Label>
      <Words>{explainsText(map, suspect.explains) || (view.mends.some((m) => m.event.explains === 'yes') ? 'What was complained of is explained by an earlier repair.' : 'Nothing was asked, so nothing is computed.')}</Words>
      <Choice label="Explains" value={explains} onChange={setExplains} options={[{ value: 'yes', label: 'Yes' }, { value: 'no', label: 'No, note it and go on' }, { value: 'not sure', label: 'Not sure' }]} />
      <Label>What was done</Label>
      <Choice label="How" value={how} onChange={setHow} options={[{ value: 'repaired', label: 'Repaired' }, { value: 'replaced', label: 'Replaced' }, { value: 'left safe', label: 'Cut off, left safe' }]} />
      <Field label="In words" value={text} onChange={setText} />
      <Words at="small" colour="soft">Readings from now on are judged with this part remade.</Words>
    </Sheet>
  );
}

