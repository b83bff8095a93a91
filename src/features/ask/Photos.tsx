import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Image, View } from 'react-native';
import { Button, Field, Label, Problem } from '@/components';
import { pickPicture } from '@/files';
import { newId } from '@/id';
import { useJob } from '@/features/job/JobProvider';
import { photosOf, savePhoto } from '@/storage';
import { useTheme } from '@/theme';
import { shrinkPhoto } from './shrink';

/** Photos with a note each, made small and kept beside the job. */
export function Photos() {
  const { view, file, record } = useJob();
  const { colour } = useTheme();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const kept = useQuery({ queryKey: ['photos', file.id], queryFn: () => photosOf(file.id), staleTime: Infinity });
  const add = async (): Promise<void> => {
    setProblem(null);
    const picked = await pickPicture();
    if (!picked) return;
    const small = await shrinkPhoto(picked);
    if (!small.ok) return setProblem(small.problem);
    const id = newId();
    try {
      await savePhoto(file.id, id, small.dataUrl);
    } catch {
      return setProblem('The browser would not keep the photo. Free some space, then take it again.');
    }
    await client.invalidateQueries({ queryKey: ['photos', file.id] });
    record({ type: 'photo', photo: id, note: '', gone: false });
  };
  return (
    <View style={{ gap: 8 }}>
      <Label>Photos</Label>
      {problem ? <Problem text={problem} testID="photo-problem" /> : null}
      {view.photos.map((p) => {
        const uri = kept.data?.[p.id];
        return (
          <View key={p.id} testID="photo" style={{ flexDirection: 'row', gap: 10, alignItems: 'flex-end' }}>
            {uri ? <Image source={{ uri }} accessibilityLabel={p.note || 'Photo'} style={{ width: 96, height: 96, borderRadius: 10, borderWidth: 1, borderColor: colour.edge }} /> : <View style={{ width: 96, height: 96, borderRadius: 10, backgroundColor: colour.hairline }} />}
            <View style={{ flex: 1, gap: 6 }}>
              <Note key={p.note} note={p.note} onKeep={(note) => record({ type: 'photo', photo: p.id, note, gone: false })} />
              <Button label="Take it out" kind="quiet" small accessibilityLabel={`Take out photo ${p.note}`} onPress={() => record({ type: 'photo', photo: p.id, note: p.note, gone: true })} />
            </View>
          </View>
        );
      })}
      <Button label="Add a photo" onPress={() => void add()} testID="add-photo" />
    </View>
  );
}

function Note({ note, onKeep }: { note: string; onKeep: (note: string) => void }) {
  const [text, setText] = useState(note);
  return (
    <View style={{ gap: 6 }}>
      <Field label="What it shows" value={text} onChange={setText} onSubmit={() => onKeep(text.trim())} testID="photo-note" />
      {text !== note ? <Button label="Keep the note" small onPress={() => onKeep(text.trim())} testID="keep-note" /> : null}
    </View>
  );
}
