import { useEffect, useState } from 'react';
import { Text } from 'react-native';
import { useJob } from '@/features/job/JobProvider';
import { formatShare } from '@core/units';
import { beliefPlaceName, stepTitle } from '@core/wording';

/** For who listens: after each entry, once the advice knows it, one sentence says what it changed and what is next. Nothing to see. */
export function Spoken() {
  const { view, advice, thinking, file } = useJob();
  const [said, setSaid] = useState({ events: file.events.length, words: '' });
  const { map } = view;
  const isNews = !thinking && advice !== null && map !== null && file.events.length !== said.events;
  useEffect(() => {
    if (!isNews || !advice || !map) return undefined;
    const change = advice.lastChange;
    const changed = change && formatShare(change.from) !== formatShare(change.to) ? `${beliefPlaceName(map, change.place)} now ${formatShare(change.to)}, was ${formatShare(change.from)}. ` : '';
    const next = advice.steps[0] ? `Next: ${stepTitle(map, advice.steps[0])}.` : 'No reading in reach tells more.';
    const words = advice.verdict.says === 'none' ? next : advice.verdict.place ? `${beliefPlaceName(map, advice.verdict.place)}, ${formatShare(advice.verdict.share)}.` : next;
    // After the entry itself was told.
    const timer = setTimeout(() => setSaid({ events: file.events.length, words: `${changed}${words}` }), 0);
    return () => clearTimeout(timer);
  }, [isNews, advice, map, file.events.length]);
  return <Text testID="spoken" role="status" aria-live="polite" style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', opacity: 0.01 }}>{said.words}</Text>;
}
