import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Label, Words } from '@/components';
import { lastExport } from '@/storage/meta';
import { askToKeep, roomNow, type Room } from '@/storage/room';

/** "14 kB", "3.1 MB". */
function bytesWords(bytes: number): string {
  const step = bytes < 999_500 ? { of: 1e3, unit: 'kB' } : bytes < 999.5e6 ? { of: 1e6, unit: 'MB' } : { of: 1e9, unit: 'GB' };
  const n = bytes / step.of;
  return `${n < 9.95 && step.of > 1e3 ? n.toFixed(1) : Math.max(1, Math.round(n))} ${step.unit}`;
}

function daysAgo(at: number): string {
  const days = Math.floor((Date.now() - at) / (24 * 3600 * 1000));
  return days < 1 ? 'today' : days === 1 ? 'yesterday' : `${days} days ago`;
}

const certainWords = (room: Room | null): string =>
  room === null ? 'The browser does not say whether it keeps them. Export a job before you rely on it.'
    : room.certain ? 'The browser keeps your jobs until you delete them here, or clear its data.'
    : 'The browser may clear your jobs when the device runs out of room. Export what matters.';

/** Where the jobs are, whether they stay, how much room they take, and what was taken out last. */
export function KeptHere() {
  const { data, refetch } = useQuery({ queryKey: ['room'], queryFn: async () => ({ room: await roomNow(), exported: await lastExport() }), staleTime: 0 });
  const [refused, setRefused] = useState(false);
  if (!data) return null;
  const { room, exported } = data;
  return (
    <View style={{ gap: 8 }} testID="kept-here">
      <Label>Your jobs</Label>
      <Words>{`They are on this device, in this browser, and nowhere else. ${certainWords(room)}`}</Words>
      {window.isSecureContext ? null : <Words testID="plain-http">This page came by plain http: it works while the network does, and cannot be opened without it. By https, or on the machine that serves it, it can.</Words>}
      {room && !room.certain ? <Button label="Ask the browser to keep them" onPress={() => void askToKeep().then((granted) => { setRefused(!granted); return refetch(); })} testID="ask-to-keep" style={{ alignSelf: 'flex-start' }} /> : null}
      {refused ? <Words at="small" role="status">It did not grant that. It often does once Gutter is on the home screen.</Words> : null}
      {typeof room?.usedBytes === 'number' ? <Words at="small" colour="soft">{`${bytesWords(room.usedBytes)} used${room.ofBytes ? ` of the ${bytesWords(room.ofBytes)} that the browser allows` : ''}, Gutter itself with it.`}</Words> : null}
      <Words at="small" colour="soft">{exported ? `Last export: ${exported.name}, ${bytesWords(exported.bytes)}, ${daysAgo(exported.at)}.` : 'Nothing was exported from here yet. Under Hand over each job has a “Job file”.'}</Words>
    </View>
  );
}
