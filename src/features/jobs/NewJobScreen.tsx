import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { Button, Choice, Field, Label, Problem, usePageTitle, Words } from '@/components';
import { TARGET, useTheme } from '@/theme';
import { askToKeep } from '@/storage/room';
import { draftCircuit, type CircuitShape } from '@core/installation';
import { draftedWords, issueText } from '@core/wording';
import { newJobFile } from './actions';
import { Refused } from './refused';
import { useJobActions } from './useJobs';

const shapes: readonly { value: CircuitShape; label: string }[] = [
  { value: 'board', label: 'Board' },
  { value: 'ring', label: 'Ring' }, { value: 'radial', label: 'Radial' }, { value: 'lights', label: 'Lights' }, { value: 'tree', label: 'Tree' },
];

const NOT_KEPT = 'The browser would not keep the job: its storage is full, or not allowed for this site. What you drafted is still here. Free some space, then start the job again.';

const switchPhrases = { none: '', one: ', one switch', two: ', two-way switch', loop: ', loop-in' } as const;
const rcdPhrases = { none: '', one: ', RCD on all', each: ', RCBOs on all' } as const;

/** A circuit or a board in seconds: a shape, a number, done. Or the same as a phrase. Everything else can wait. */
export function NewJobScreen() {
  const { colour } = useTheme();
  const router = useRouter();
  const { create } = useJobActions();
  usePageTitle('New job');
  const [shape, setShape] = useState<CircuitShape>('ring');
  const [count, setCount] = useState<number | null>(null);
  const [switches, setSwitches] = useState<keyof typeof switchPhrases>('none');
  const [rcd, setRcd] = useState<keyof typeof rcdPhrases>('none');
  const [phrase, setPhrase] = useState('');
  const [name, setName] = useState('');
  const [agreed, setAgreed] = useState<'45' | '90'>('45');
  const asked = phrase.trim() || (count === null ? '' : shape === 'board' ? `${count} ways${rcdPhrases[rcd]}` : `${shape}, ${count}${shape === 'lights' ? switchPhrases[switches] : ''}`);
  const drafted = useMemo(() => (asked ? draftCircuit(asked) : null), [asked]);
  const start = (): void => {
    if (!drafted?.ok) return;
    void askToKeep();
    create.mutate(newJobFile(name.trim(), asked, drafted.value, Number(agreed)), { onSuccess: (file) => router.replace(`/job/${file.id}/ask`) });
  };
  const startBare = (): void => create.mutate(newJobFile(name.trim(), '', null, Number(agreed)), { onSuccess: (file) => router.replace(`/job/${file.id}/ask`) });
  return (
    <View role="main" style={{ flex: 1, backgroundColor: colour.paper }}>
      <ScrollView contentContainerStyle={{ padding: 18, gap: 14, maxWidth: 640, width: '100%', alignSelf: 'center', paddingBottom: 120 }}>
        <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center' }}>
          <Words at="title" bold role="heading" level={1}>New job</Words>
          <Button label="Back" kind="quiet" onPress={() => router.replace('/')} />
        </View>
        <Label>What circuit</Label>
        <Choice label="Shape" value={phrase ? null : shape} onChange={(s) => { setShape(s); setPhrase(''); }} options={shapes} />
        <Label>{shape === 'board' ? 'How many ways' : 'How many points'}</Label>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
          {Array.from({ length: 15 }, (_, i) => i + 1).map((n) => {
            const chosen = n === count && !phrase;
            return (
              <Pressable key={n} role="button" aria-label={`${n} ${shape === 'board' ? 'ways' : 'points'}`} testID={`count-${n}`} onPress={() => { setCount(n); setPhrase(''); }}
                style={{ width: 62, height: TARGET + 4, borderRadius: 11, borderWidth: 1.5, borderColor: chosen ? colour.ink : colour.edge, backgroundColor: chosen ? colour.ink : colour.sheet, alignItems: 'center', justifyContent: 'center' }}>
                <Words at="lead" bold figure colour={chosen ? 'paper' : 'ink'}>{String(n)}</Words>
              </Pressable>
            );
          })}
        </View>
        {shape === 'lights' && !phrase ? <Choice label="Switches" value={switches} onChange={setSwitches} options={[{ value: 'none', label: 'No switch' }, { value: 'one', label: 'One switch' }, { value: 'two', label: 'Two-way' }, { value: 'loop', label: 'Loop-in' }]} /> : null}
        {shape === 'board' && !phrase ? <Choice label="Residual current devices" value={rcd} onChange={setRcd} options={[{ value: 'none', label: 'No RCD' }, { value: 'one', label: 'One RCD over all' }, { value: 'each', label: 'An RCBO each' }]} /> : null}
        <Field label="Or say it: “tree, 4, branch 2 at 3”, “10 ways, RCD on 1 to 6, RCBOs on 7 to 10”" value={phrase} onChange={setPhrase} onSubmit={start} testID="phrase" />
        {drafted && !drafted.ok ? drafted.issues.map((i) => <Problem key={i.code} text={issueText(i)} />) : null}
        {drafted?.ok ? <Words testID="drafted">{draftedWords(drafted.value)}</Words> : null}
        <Button label="Begin without a map" kind="quiet" onPress={startBare} testID="start-bare" />
        <Label>If you know it already</Label>
        <Field label="Name of the job" value={name} onChange={setName} testID="name" />
        <Choice label="Time agreed" value={agreed} onChange={setAgreed} options={[{ value: '45', label: '45 min agreed' }, { value: '90', label: '90 min agreed' }]} />
        {create.error ? <Problem text={create.error instanceof Refused && create.error.issue.code !== 'storage.refused' ? issueText(create.error.issue) : NOT_KEPT} /> : null}
      </ScrollView>
      <View style={{ position: 'absolute', left: 0, right: 0, bottom: 0, padding: 14, backgroundColor: colour.paper, borderTopWidth: 1, borderTopColor: colour.hairline, alignItems: 'center' }}>
        <Button label="Start job" kind="main" disabled={!drafted?.ok} onPress={start} testID="start-job" style={{ width: '100%', maxWidth: 604 }} />
      </View>
    </View>
  );
}
