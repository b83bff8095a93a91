import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Choice, Field, Label, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { liveBefore } from '@/features/live/liveBefore';
import { useTheme } from '@/theme';
import { asToldPoles, dangersOf, nextQuestion, questionsOf, traitShares } from '@core/asking';
import type { Asked, Complaint, EventBody } from '@core/job';
import { complaintWords, dangerWords, firstAdvice, liveStepTitle, traitWords } from '@core/wording';
import { formatShare } from '@core/units';
import { AnsweredRow, QuestionCard } from './QuestionCard';
import { Diary } from './Diary';
import { Photos } from './Photos';
import { Sights } from './Sights';

const complaints: readonly { value: Complaint; label: string }[] = (['rcd trips', 'mcb trips', 'dead', 'shock', 'flicker or heat', 'inspection'] as const).map((value) => ({ value, label: complaintWords[value] }));

/** What is complained of, question by question: danger first, then what tells most. Every answer shifts the suspicion in sight. */
export function AskScreen() {
  const { view, record, file, advice } = useJob();
  const live = liveBefore(view, advice);
  const { wide } = useTheme();
  const router = useRouter();
  const { asked, map } = view;
  // What is said first is over once something was read: Live and Trace go on from there.
  const begun = view.readings.length + view.liveReadings.length > 0;
  const [open, setOpen] = useState<string | null>(null);
  const question = useMemo(() => (map ? (questionsOf(map, asked).find((q) => q.id === open) ?? nextQuestion(map, asked)) : null), [map, asked, open]);
  const shares = useMemo(() => (map && asked.complaint ? traitShares(map, asked) : []), [map, asked]);
  /** What trips again at once stands off. Once devices were closed here, what they did counts; once it was made dead, how they were left. */
  const stands = (then: Asked): EventBody[] => (map && !view.everSecured && !view.liveReadings.some((r) => r.event.test.kind === 'closed') ? asToldPoles(map, asked, then).map((p) => ({ type: 'switched', ...p })) : []);
  const ask = (part: { complaint?: Complaint; shock?: boolean; notes?: string }): void => {
    const then = { complaint: asked.complaint, shock: asked.shock, notes: asked.notes, ...part };
    record({ type: 'asked', ...then }, ...stands({ ...asked, ...then }));
  };
  const answer = (q: string, a: string | null): void => {
    setOpen(null);
    const { [q]: before, ...others } = asked.answers;
    const then = stands({ ...asked, answers: a === null ? others : { ...others, [q]: a } });
    if (a !== null) record({ type: 'answered', question: q, answer: a }, ...then);
    // Taken back first where it was answered: then it is not known.
    else record(...(before === undefined ? [] : [{ type: 'answered', question: q, answer: null } as const]), { type: 'answered', question: q, answer: null }, ...then);
  };
  const told = map ? questionsOf(map, asked).filter((q) => (asked.answers[q.id] !== undefined || asked.notKnown?.includes(q.id)) && q.id !== open) : [];
  return (
    <JobFrame stage="ask">
      <ScrollView contentContainerStyle={{ padding: 18, gap: 14, maxWidth: wide ? 900 : 720, width: '100%', paddingBottom: 40 }}>
        {dangersOf(asked).map((d) => (
          <Caution key={d} testID={`danger-${d}`} title={dangerWords[d].title}>{dangerWords[d].lines.join('\n')}</Caution>
        ))}
        <Words at="title" bold role="heading">What is wrong?</Words>
        <Choice label="Complaint" testID="complaint" value={asked.complaint} onChange={(c) => ask({ complaint: c, ...(c === 'shock' ? { shock: true } : {}) })} options={complaints} />
        {asked.complaint && (live || !begun) ? (
          <View style={{ gap: 4 }}>
            <Label>{begun ? 'Next' : 'First advice'}</Label>
            <Words at="lead" testID="first-advice">{firstAdvice(asked.complaint, shares[0], Object.keys(asked.answers).length > 0, live && map ? liveStepTitle(map, live.step) : undefined)}</Words>
          </View>
        ) : null}
        {question && map ? <QuestionCard key={question.id} map={map} question={question} chosen={asked.answers[question.id] ?? null} onAnswer={(a) => answer(question.id, a)} /> : null}
        {told.map((q) => <AnsweredRow key={q.id} map={map} asked={asked} question={q} onOpen={() => setOpen(q.id)} />)}
        {shares.length && asked.complaint !== 'inspection' ? (
          <View style={{ gap: 2 }} testID="likely-now">
            <Label>{begun ? 'Likely by what was told alone' : 'Most likely now'}</Label>
            {shares.slice(0, 4).map((s) => (
              <View key={s.trait} style={{ flexDirection: 'row', justifyContent: 'space-between', gap: 10 }}>
                <Words style={{ flexShrink: 1 }}>{traitWords[s.trait]}</Words>
                <Words figure bold colour="suspect">{formatShare(s.share)}</Words>
              </View>
            ))}
          </View>
        ) : null}
        {asked.complaint ? <Sights /> : null}
        {asked.complaint ? <Photos /> : null}
        {asked.complaint === 'rcd trips' || asked.complaint === 'mcb trips' ? <Diary /> : null}
        {asked.complaint && asked.complaint !== 'shock' ? <Button label={asked.shock ? 'Nobody had a shock after all' : 'Someone had a shock'} onPress={() => ask({ shock: !asked.shock })} testID="had-shock" /> : null}
        <TheirWords notes={asked.notes} onKeep={(notes) => ask({ notes })} />
        {live ? <Button label="Work the devices" kind="main" onPress={() => router.replace(`/job/${file.id}/live`)} testID="to-live" /> : null}
        <Button label="Make dead" kind={live ? 'plain' : 'main'} onPress={() => router.replace(`/job/${file.id}/dead`)} testID="to-dead" />
      </ScrollView>
    </JobFrame>
  );
}

function TheirWords({ notes, onKeep }: { notes: string; onKeep: (notes: string) => void }) {
  const [text, setText] = useState(notes);
  return (
    <View style={{ gap: 8 }}>
      <Field label="In their words: when, since when, with what on" value={text} onChange={setText} onSubmit={() => onKeep(text)} />
      {text !== notes ? <Button label="Keep the words" onPress={() => onKeep(text)} /> : null}
    </View>
  );
}
