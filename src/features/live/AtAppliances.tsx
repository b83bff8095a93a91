import { View } from 'react-native';
import { Button, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { loadsOf } from '@core/installation';
import { beliefPlaceName, firstCapital, formatMilliamp } from '@core/wording';
import { elementKey } from '@core/workstate';

/** A clamp on the lead of what is plugged in or wired in at a drawn point: what it draws, and what it loses. */
export function AtAppliances({ closed, onClamp }: { closed: boolean; onClamp: (around: string) => void }) {
  const { view } = useJob();
  const { colour, wide } = useTheme();
  const { map } = view;
  const parts = map?.points.filter((p) => p.kind === 'outlet' || p.kind === 'fixed').flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id))) ?? [];
  if (!map || !parts.length) return null;
  const latest = (around: string): number | null => view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch).flatMap(({ event: { test } }) => (test.kind === 'clamp' && test.around === around && !test.peak ? [test.mA] : [])).at(-1) ?? null;
  const button = (part: string, around: string, what: string) => {
    const mA = latest(around);
    return <Button label={mA === null ? what : `${what} ${formatMilliamp(mA)}`} small grow disabled={closed} accessibilityLabel={`${what} of ${beliefPlaceName(map, part)}`} onPress={() => onClamp(around)} testID={`clamp-${around}`} />;
  };
  return (
    <View testID="appliances" style={{ borderWidth: 1.5, borderColor: colour.edge, borderRadius: 14, padding: 14, gap: 10, backgroundColor: colour.sheet, width: wide ? 480 : '100%' }}>
      <Words at="lead" bold>At an appliance</Words>
      <Words at="small" colour="soft">On its lead, covers on: line alone shows what it draws; line and neutral together, what it loses to earth.</Words>
      {parts.map((part) => (
        <View key={part} style={{ gap: 6 }}>
          <Words bold lines={1}>{firstCapital(beliefPlaceName(map, part))}</Words>
          <View style={{ flexDirection: 'row', gap: 8 }}>
            {button(part, `${part}/L`, 'Draws')}
            {button(part, part, 'Loses')}
          </View>
        </View>
      ))}
    </View>
  );
}
