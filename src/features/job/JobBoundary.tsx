import { useRouter } from 'expo-router';
import { Component, type ReactNode } from 'react';
import { View } from 'react-native';
import { Button, Label, Problem } from '@/components';
import { exportAsKept } from '@/features/over/exportJob';
import { useTheme } from '@/theme';
import { stageNames, stages } from './stages';

/** Where a job or a stage of it cannot be shown, nothing is lost: it can be exported, tried again, or left for another. */
export function JobBoundary({ id, children }: { id: string; children: ReactNode }) {
  return <Boundary whenBroken={(why, again) => <Broken id={id} why={why} onAgain={again} />}>{children}</Boundary>;
}

interface BoundaryProps { readonly children: ReactNode; whenBroken(why: string, again: () => void): ReactNode }

class Boundary extends Component<BoundaryProps, { why: string | null }> {
  override state: { why: string | null } = { why: null };
  static getDerivedStateFromError(error: unknown): { why: string } {
    return { why: error instanceof Error ? error.message : String(error) };
  }
  override render(): ReactNode {
    const { why } = this.state;
    return why === null ? this.props.children : this.props.whenBroken(why, () => this.setState({ why: null }));
  }
}

function Broken({ id, why, onAgain }: { id: string; why: string; onAgain: () => void }) {
  const { colour } = useTheme();
  const router = useRouter();
  return (
    <View testID="broken" style={{ flex: 1, backgroundColor: colour.paper, padding: 20, gap: 14 }}>
      <Problem text={`This cannot be shown: something in Gutter failed (${why}). The job is kept as it was.`} />
      <Button label="Export the job file" onPress={() => void exportAsKept(id)} testID="broken-export" />
      <Button label="Show it again" onPress={onAgain} />
      <Button label="All jobs" kind="main" onPress={() => router.replace('/')} />
      <Label>Another stage of the job may still open</Label>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
        {stages.map((s) => <Button key={s} label={stageNames[s]} small onPress={() => router.replace(`/job/${id}/${s}`)} />)}
      </View>
    </View>
  );
}
