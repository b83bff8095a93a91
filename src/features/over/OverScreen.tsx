import { useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import { Image, ScrollView, View } from 'react-native';
import { Button, Choice, Field, Label, Problem, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { useProfile } from '@/features/settings/useProfile';
import { useTheme } from '@/theme';
import { describeReport, disclaimer, readingsCsv, reportHtml, type Report } from '@core/report';
import { fileName, saveFile } from '@/files';
import { photosOf } from '@/storage';
import { exportJob } from './exportJob';
import { makePdf } from './makePdf';

/** The record another electrician can act on, and a plain page for the customer. */
export function OverScreen() {
  const { view, file } = useJob();
  const { wide } = useTheme();
  const [profile] = useProfile();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const [now] = useState(() => Date.now());
  const report = describeReport(view, now, profile);
  const pdf = async (): Promise<void> => {
    setBusy(true);
    setProblem('');
    try {
      saveFile(fileName(view.name, 'pdf'), 'application/pdf', await makePdf(report, report.photos.length ? await photosOf(file.id).catch(() => ({})) : {}));
    } catch {
      setProblem('The PDF could not be made. Export the HTML page instead; it holds the same.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <JobFrame stage="over">
      <ScrollView contentContainerStyle={{ padding: 18, gap: 14, maxWidth: 980, width: '100%', paddingBottom: 40 }}>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
          <Button label={busy ? 'Making the PDF' : 'PDF'} kind="main" onPress={() => void pdf()} disabled={busy} testID="make-pdf" style={{ minWidth: 140 }} />
          <Button label="HTML page" onPress={() => void photosOf(file.id).catch(() => ({})).then((photos) => saveFile(fileName(view.name, 'html'), 'text/html', reportHtml(report, photos)))} />
          <Button label="Readings, CSV" onPress={() => saveFile(fileName(view.name, 'csv'), 'text/csv', readingsCsv(report))} testID="csv" />
          <Button label="Job file" onPress={() => void exportJob(file)} testID="job-file" />
        </View>
        {problem ? <Problem text={problem} /> : null}
        <ReportView report={report} wide={wide} />
        <PhotosShown job={file.id} photos={report.photos} />
        <AddNote />
      </ScrollView>
    </JobFrame>
  );
}

function ReportView({ report, wide }: { report: Report; wide: boolean }) {
  const { colour } = useTheme();
  const line = { borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingVertical: 6 } as const;
  return (
    <View testID="report" style={{ gap: 12 }}>
      <View>
        <Words at="title" bold role="heading">{report.title}</Words>
        <Words colour="soft">{`${report.made} · ${report.status}`}</Words>
        <Words bold testID="report-proof">{report.proof}</Words>
        <Words at="small" colour="soft">{disclaimer}</Words>
      </View>
      <Lines title="For the customer" items={report.customer} />
      <Lines title="Asked and drawn" items={report.asked} />
      <View>
        <Label>Found and done</Label>
        {report.found.length ? report.found.map((f) => <View key={f.what} style={line}><Words bold>{f.what}</Words><Words>{`${f.done}; ${f.explains}`}</Words></View>) : <Words>{report.nothing}</Words>}
      </View>
      {report.retests.length ? (
        <View>
          <Label>Retests</Label>
          {report.retests.map((t) => (
            <View key={t.what} style={[line, wide ? { flexDirection: 'row', gap: 12 } : null]}>
              <Words style={{ flex: wide ? 1 : undefined }}>{t.what}</Words>
              <Words figure>{[t.expected, t.before ? `before ${t.before}` : '', t.after ? `after ${t.after}` : ''].filter(Boolean).join(' · ')}</Words>
              <Words bold>{t.verdict}</Words>
            </View>
          ))}
        </View>
      ) : null}
      {report.live.length ? (
        <View testID="report-live">
          <Label>Tests with the supply on</Label>
          {report.live.map((t, i) => (
            <View key={i} style={[line, { flexDirection: 'row', gap: 12 }]}>
              <Words style={{ flex: 1 }}>{t.what}</Words>
              <Words figure>{t.value}</Words>
              {t.remark ? <Words at="small" colour="soft">{t.remark}</Words> : null}
            </View>
          ))}
        </View>
      ) : null}
      <View>
        <Label>Readings</Label>
        {report.readings.length ? report.readings.map((r) => (
          <View key={r.number} style={line}>
            <View style={{ flexDirection: 'row', gap: 10 }}>
              <Words figure colour="soft">{String(r.number).padStart(2)}</Words>
              <Words style={{ flex: 1 }}>{r.what}</Words>
              <Words figure bold>{r.value}</Words>
            </View>
            <Words at="small" colour="soft" style={{ paddingLeft: 30 }}>{[r.function, r.conditions, r.state, r.remark].filter(Boolean).join(' · ')}</Words>
          </View>
        )) : <Words>None yet.</Words>}
      </View>
      <Lines title="Safety" items={report.safety} />
      <Lines title="Left as it is" items={report.leftAs} />
      <Lines title="Limitations" items={report.limitations} />
      <Lines title="Observations" items={report.notes.map((n) => `${n.severity}: ${n.text}`)} />
    </View>
  );
}

/** The photos as they go out with the report. */
function PhotosShown({ job, photos }: { job: string; photos: Report['photos'] }) {
  const { colour } = useTheme();
  const kept = useQuery({ queryKey: ['photos', job], queryFn: () => photosOf(job), staleTime: Infinity, enabled: photos.length > 0 });
  if (!photos.length) return null;
  return (
    <View style={{ gap: 8 }}>
      <Label>Photos</Label>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 12 }}>
        {photos.map((p) => {
          const uri = kept.data?.[p.id];
          const words = p.note || 'Photo';
          return (
            <View key={p.id} style={{ width: 160, gap: 4 }} testID="report-photo">
              {uri ? <Image source={{ uri }} accessibilityLabel={words} resizeMode="contain" style={{ width: 160, height: 120, backgroundColor: colour.hairline }} /> : null}
              <Words at="small">{uri || kept.isPending ? words : `${words}: the picture is not on this device.`}</Words>
            </View>
          );
        })}
      </View>
    </View>
  );
}

function Lines({ title, items }: { title: string; items: readonly string[] }) {
  return (
    <View style={{ gap: 2 }}>
      <Label>{title}</Label>
      {items.length ? items.map((i) => <Words key={i}>{i}</Words>) : <Words colour="soft">None.</Words>}
    </View>
  );
}

function AddNote() {
  const { record } = useJob();
  const [text, setText] = useState('');
  const [severity, setSeverity] = useState<'observation' | 'limitation' | 'danger'>('observation');
  const keep = (): void => {
    if (!text.trim()) return;
    record({ type: 'noted', text: text.trim(), severity });
    setText('');
  };
  return (
    <View style={{ gap: 8 }}>
      <Label>Add an observation</Label>
      <Choice label="Severity" value={severity} onChange={setSeverity} options={[{ value: 'observation', label: 'Observation' }, { value: 'limitation', label: 'Limitation' }, { value: 'danger', label: 'Danger' }]} />
      <Field label="What" value={text} onChange={setText} onSubmit={keep} />
      <Button label="Add" onPress={keep} disabled={!text.trim()} />
    </View>
  );
}
