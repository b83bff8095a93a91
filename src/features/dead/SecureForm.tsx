import { useState } from 'react';
import { View } from 'react-native';
import { Button, Caution, Choice, Field, Label, Problem, Tick, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import type { EventOf } from '@core/job';
import { colourCaution, notDeadReasons, pointName } from '@core/wording';

const supplies = ['none seen', 'inverter', 'generator', 'another board'] as const;
type Second = (typeof supplies)[number];
const tailWords = [{ value: 'shrouded', label: 'Live, shrouded' }, { value: 'isolated', label: 'Isolated upstream' }] as const;

/** What makes the circuit secure: each fact said by the person, none filled in; a second supply and a second person where there are any. */
export function SecureForm() {
  const { view, record } = useJob();
  const { colour } = useTheme();
  const [permission, setPermission] = useState(false);
  const [off, setOff] = useState(false);
  const [locked, setLocked] = useState(false);
  const [key, setKey] = useState('');
  const [tails, setTails] = useState<'shrouded' | 'isolated' | null>(null);
  const [second, setSecond] = useState<Second | null>(null);
  const [secondLocked, setSecondLocked] = useState(false);
  const [two, setTwo] = useState(false);
  const [hands, setHands] = useState('');
  const [board, setBoard] = useState('');
  const [tried, setTried] = useState(false);
  const fed = second !== null && second !== 'none seen';
  const missing = [
    permission ? '' : 'permission', off ? '' : 'switched off', locked ? '' : 'locked and tagged', key.trim() ? '' : 'who has the key',
    fed && !secondLocked ? 'the second supply off and locked' : '', two && !hands.trim() ? 'who has hands on' : '', two && !board.trim() ? 'who is at the board' : '',
  ].filter(Boolean);
  const keep = (): void => {
    setTried(true);
    if (missing.length) return;
    const more: Partial<Pick<EventOf<'secured'>, 'second' | 'tails' | 'people'>> = { ...(fed ? { second } : {}), ...(tails ? { tails } : {}), ...(two ? { people: { hands: hands.trim(), board: board.trim() } } : {}) };
    record({ type: 'secured', permission, off, locked, key: key.trim(), ...more });
  };
  return (
    <>
      <Words at="title" bold role="heading">Secure the circuit</Words>
      {view.notDead ? <Problem text={`${view.map ? pointName(view.map, view.notDead.point) : ''} was not dead: ${view.notDead.volt} V. Find what feeds it before anything is touched.`} /> : null}
      {view.notDead && view.map ? (
        <View testID="not-dead-reasons" style={{ gap: 4 }}>
          <Label>Likely, first to last</Label>
          {notDeadReasons(view.map, view.notDead.point, view.notDead.from, view.notDead.to).map((r, i) => <Words key={r}>{`${i + 1}. ${r}`}</Words>)}
        </View>
      ) : null}
      <Tick label="The customer has agreed to switching off" value={permission} onChange={setPermission} testID="permission" />
      <Tick label="Loads are off, then the way is off" value={off} onChange={setOff} testID="off" />
      <Tick label="Locked and tagged" value={locked} onChange={setLocked} testID="locked" />
      <Field label="Who has the key" value={key} onChange={setKey} onSubmit={keep} testID="key" />
      <Choice label="Key" value={key === 'with me' ? 'with me' : null} onChange={setKey} options={[{ value: 'with me', label: 'With me' }]} />
      {tried && missing.length ? <Words bold colour="danger" role="alert" testID="secure-missing">{`Not yet secured: ${missing.join(', ')}.`}</Words> : null}
      <Button label="Record: secured" onPress={keep} testID="secure" style={{ borderColor: colour.ink }} />
      <Caution>The incoming tails at the board stay live. Shroud them, or isolate upstream where that can be done. A lamp that went out proves nothing. {colourCaution}</Caution>
      <Label>Also, where it applies</Label>
      <Words at="small" colour="soft">Incoming tails</Words>
      <Choice label="Incoming tails" value={tails} onChange={setTails} options={tailWords} />
      <Words at="small" colour="soft">Another supply to this installation</Words>
      <Choice label="Another supply" value={second} onChange={setSecond} options={supplies.map((s) => ({ value: s, label: s.charAt(0).toUpperCase() + s.slice(1) }))} />
      {fed ? <Tick label="It is off and locked too" value={secondLocked} onChange={setSecondLocked} testID="second-locked" /> : null}
      <Tick label="Two of us work here" value={two} onChange={setTwo} testID="two-people" />
      {two ? (
        <>
          <Field label="Who has hands on" value={hands} onChange={setHands} testID="hands" />
          <Field label="Who is at the board: nobody else switches" value={board} onChange={setBoard} testID="at-board" />
        </>
      ) : null}
    </>
  );
}
