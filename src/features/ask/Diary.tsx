import { useState } from 'react';
import { View } from 'react-native';
import { Button, Choice, Field, Label, Problem, RowButton, Sheet, Words } from '@/components';
import { fileName, saveFile } from '@/files';
import { useJob } from '@/features/job/JobProvider';
import { diaryPage, patternsOf, type Trip } from '@core/diary';
import { labelOfWay, waysOfBoard } from '@core/installation';
import { patternWords } from '@core/wording';
import { diaryCalendar } from './calendar';
import { readTrip } from './readTrip';

const weathers = [{ value: 'dry', label: 'Dry' }, { value: 'wet', label: 'Rain, dew, steam' }, { value: 'unknown', label: 'Not noted' }] as const;

/** The customer's diary: out as a page and as calendar dates, back line by line; what the trips have in common is evidence. */
export function Diary() {
  const { view, file, record } = useJob();
  const [typing, setTyping] = useState(false);
  const { map, trips } = view;
  const title = view.name || 'Trips';
  const labels = map ? waysOfBoard(map).map((w) => labelOfWay(map, w.id)).filter((l) => !/^Way \d+$/.test(l)) : [];
  const patterns = patternsOf(trips);
  return (
    <View style={{ gap: 8 }} testID="diary">
      <Label>Trip diary</Label>
      {patterns.map((p) => <Words key={p.kind} bold testID={`pattern-${p.kind}`}>{patternWords(p)}</Words>)}
      {view.diaryAnswers ? <Words at="small" colour="soft">The diary answers when it trips, until somebody says otherwise.</Words> : null}
      {trips.length && trips.length < 3 ? <Words at="small" colour="soft">Three trips or more show a pattern.</Words> : null}
      {trips.map((t) => (
        <RowButton key={t.id} label={`Strike out the trip of ${tripWords(t)}`} onPress={() => record({ type: 'struck', target: t.id, why: 'wrong entry' })}>
          <Words style={{ flex: 1 }}>{tripWords(t)}</Words>
          <Words at="small" bold>Strike out</Words>
        </RowButton>
      ))}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
        <Button label="Type a trip" onPress={() => setTyping(true)} testID="type-trip" />
        <Button label="Page for the customer" onPress={() => saveFile(fileName(`${title} diary`, 'html'), 'text/html', diaryPage(title, labels))} testID="diary-page" />
        <Button label="Calendar file" onPress={() => void diaryCalendar(file.id, title, Date.now()).then((ics) => saveFile(fileName(`${title} diary`, 'ics'), 'text/calendar', ics))} testID="diary-ics" />
      </View>
      {typing ? <TripSheet onClose={() => setTyping(false)} /> : null}
    </View>
  );
}

const tripWords = (t: Trip): string => `${new Date(t.at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${String(t.hour).padStart(2, '0')}h, ${t.weather === 'unknown' ? 'weather not noted' : t.weather}${t.running.length ? `, ${t.running.join(', ')}` : ''}`;

function TripSheet({ onClose }: { onClose: () => void }) {
  const { record } = useJob();
  const [date, setDate] = useState('');
  const [time, setTime] = useState('');
  const [weather, setWeather] = useState<Trip['weather']>('unknown');
  const [running, setRunning] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const keep = (): void => {
    const read = readTrip(date, time, running, Date.now());
    if (!read.ok) return setProblem(read.problem);
    record({ type: 'trip', ...read.trip, weather });
    onClose();
  };
  return (
    <Sheet title="A trip from the diary" onClose={onClose} testID="trip-sheet" footer={<Button label="Keep" kind="main" onPress={keep} testID="keep-trip" />}>
      {problem ? <Problem text={problem} /> : null}
      <Field label="Day, as 24.11. or 2026-11-24; empty: today" value={date} onChange={setDate} testID="trip-date" />
      <Field label="Time, as 6:30 or 18" value={time} onChange={setTime} testID="trip-time" />
      <Label>Weather</Label>
      <Choice label="Weather" value={weather} onChange={setWeather} options={weathers} />
      <Field label="What was running, with commas" value={running} onChange={setRunning} testID="trip-running" />
    </Sheet>
  );
}
