import { View } from 'react-native';
import { Button, HoldButton, Label, RowButton, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { endsAtPoint, faceKey, findPoint, findSection, moves, protectionsOf, terminalKey } from '@core/installation';
import type { EventBody } from '@core/job';
import { elementKey, linkKey } from '@core/workstate';
import { coreWords, deviceWords, endsWords, laneLetter, leadWords, legOf, sectionName, spotName, switchedWords } from '@core/wording';
import type { StripRow } from './strip';


interface Props { row: StripRow; leads: readonly string[][]; onLead: (place: string, tie: boolean) => void; onClose: () => void }

/** What can be done at a row: put a lead on a terminal, split, link, unplug, or say that it cannot be reached. */
export function ChoosePlace({ row, leads, onLead, onClose }: Props) {
  const { view, record } = useJob();
  const { map, state } = view;
  if (!map) return null;
  const section = findSection(map, row.id);
  if (section) {
    const core = section.cores[0];
    return (
      <Sheet title={sectionName(map, section)} onClose={onClose}>
        <Words>{`${section.lengthM.toFixed(1)} m ${section.lengthKnown ? '' : '(guessed) '}of ${core?.csaMm2 ?? '?'} mm². ${row.marks.map((m) => m.words).join(', ')}`}</Words>
        <Words>A cable is read at its two ends. Tap a point.</Words>
      </Sheet>
    );
  }
  const point = findPoint(map, row.id.split('#')[0] ?? '');
  if (!point) return null;
  const leg = row.id.includes('#') && map.shape === 'ring' ? Number(row.id.split('#')[1]) : null;
  const ends = endsAtPoint(map, point.id).filter((e) => leg === null || legOf(map, e.section, e.side) === leg);
  const opened = state.opened.includes(point.id);
  const board = point.kind === 'board';
  const face = point.faces[0];
  const places = [
    ...point.terminals.map((t) => ({ key: !opened && face ? faceKey(point.id, face.id, t.id) : terminalKey(point.id, t.id), words: `${board ? leadWords(map, terminalKey(point.id, t.id)) : coreWords(t.id)} ${!opened && face ? 'face' : 'terminal'}` })),
    ...(opened || board ? ends.map((e) => ({ key: e.key, words: `${e.role} end${board ? '' : ` to ${spotName(map, terminalKey(e.section[e.side === 'a' ? 'b' : 'a'], e.terminal))}`}${state.out.includes(e.key) ? ', out' : ''}` })) : []),
  ];
  const groups = [...new Set(ends.map((e) => e.section.id))].map((id) => ends.filter((e) => e.section.id === id));
  const act = (...events: EventBody[]): void => {
    record(...events);
    onClose();
  };
  const openFirst: EventBody[] = opened || board ? [] : [{ type: 'opened', point: point.id }];
  // A link goes on metal that can be touched: the face, or what an open cover shows, a free end before its terminal.
  const linkPlace = (role: string): string => {
    const end = ends.find((e) => e.role === role && state.out.includes(e.key));
    if (end) return end.key;
    const terminal = role === 'L' && board ? 'W' : role;
    return !opened && face ? faceKey(point.id, face.id, terminal) : terminalKey(point.id, terminal);
  };
  const linkRoles = opened || board || face ? point.terminals.map((t) => t.id).filter((t) => t !== 'W') : [];
  const pairs = linkRoles.flatMap((b, i) => linkRoles.slice(0, i).map((a) => ({ words: `${coreWords(a)}–${coreWords(b)}`, a: linkPlace(a), b: linkPlace(b) })));
  const hasLinks = state.links.filter((l) => [l.a, l.b].some((k) => k.startsWith(`${point.id}:`) || ends.some((e) => e.key === k)));
  return (
    <Sheet title={row.name} onClose={onClose} testID="place-sheet">
      <Label>{leads.length === 1 ? 'Second lead on' : 'Lead on'}</Label>
      {point.reach === 'never' ? <Words>Nobody reaches this place.</Words> : places.map((p) => (
        <View key={p.key} style={{ flexDirection: 'row', gap: 8 }}>
          <RowButton label={`Lead on ${p.words}`} testID={`lead-${p.key}`} onPress={() => onLead(p.key, false)} style={{ flex: 1 }}>
            <Words bold figure>{laneLetter(map, p.key)}</Words>
            <Words style={{ flex: 1 }}>{p.words}</Words>
          </RowButton>
          {leads.length ? <Button label="and" kind="quiet" accessibilityLabel={`Tie ${p.words} to the last lead`} onPress={() => onLead(p.key, true)} /> : null}
        </View>
      ))}
      <Label>Done here</Label>
      {!board && !opened && point.reach !== 'never' ? <HoldButton label="Cover is off" onHeld={() => act({ type: 'opened', point: point.id })} /> : null}
      {!board && opened ? <HoldButton label="Cover is back on" onHeld={() => act({ type: 'coverOn', point: point.id })} /> : null}
      {groups.map((g) => {
        const keys = g.map((e) => e.key);
        const out = keys.every((k) => state.out.includes(k));
        return <HoldButton key={keys[0]} label={out ? `Back in: ${endsWords(map, keys)}` : `Split here: ${endsWords(map, keys)} out`} onHeld={() => act(...openFirst, out ? { type: 'putBack', point: point.id, ends: keys } : { type: 'tookOut', point: point.id, ends: keys.filter((k) => !state.out.includes(k)) })} />;
      })}
      {ends.length > 3 || board ? ends.map((e) => {
        const out = state.out.includes(e.key);
        return <HoldButton key={e.key} label={`${out ? 'Back in' : 'Out'}: ${endsWords(map, [e.key])}`} onHeld={() => act(...openFirst, out ? { type: 'putBack', point: point.id, ends: [e.key] } : { type: 'tookOut', point: point.id, ends: [e.key] })} />;
      }) : null}
      {pairs.map(({ words, a, b }) => <HoldButton key={words} label={`Link ${words} here`} onHeld={() => act({ type: 'linked', link: { id: linkKey(a, b), a, b } })} />)}
      {hasLinks.map((l) => <HoldButton key={l.id} label="Link is off" onHeld={() => act({ type: 'unlinked', link: l.id })} />)}
      {point.elements.filter(moves).map((e) => {
        const part = elementKey(point.id, e.id);
        if (e.kind === 'load') {
          const out = state.loadsOut.includes(part);
          return <HoldButton key={part} label={out ? `${e.name} is back in` : `${e.name} is out`} onHeld={() => act({ type: 'loadsMoved', parts: [part], out: !out })} />;
        }
        const off = state.off.includes(part);
        // One handle opens all poles of a device.
        const { poles = [part], id } = protectionsOf(map).find((d) => d.poles.includes(part)) ?? {};
        if (poles[0] !== part) return null;
        const found = !off && view.howFound.includes(part) ? <HoldButton key={`found ${part}`} label={`${e.name}: it was off already, as found`} onHeld={() => act({ type: 'switched', part, off: true, found: true })} testID={`found-off-${part}`} /> : null;
        return [found, <HoldButton key={part} label={`${id !== undefined && poles.length > 1 ? deviceWords(map, id) : e.name}: ${switchedWords(map, part, !off)}`} danger={e.kind === 'way' && off} disabled={e.kind === 'way' && off} onHeld={() => act(...poles.map((p) => ({ type: 'switched' as const, part: p, off: !off })))} />];
      })}
      {board ? null : (
        <View style={{ flexDirection: 'row', gap: 8 }}>
          <Button grow label={view.unreachable.includes(point.id) ? 'Can be reached after all' : 'Can’t reach this point'} onPress={() => act({ type: 'cantReach', point: point.id, can: view.unreachable.includes(point.id) })} />
          <Button grow label="I left this point" onPress={() => act({ type: 'leftPoint', point: point.id })} />
        </View>
      )}
    </Sheet>
  );
}
