import { useEffect, useRef, useState } from 'react';
import { Pressable, View, type GestureResponderEvent, type StyleProp, type ViewStyle } from 'react-native';
import { TARGET, useTheme } from '@/theme';
import { Words } from './Words';

const HOLD_MS = 600;

/** How long after it lets go a thumb's click may still come. */
const CLICK_WITHIN_MS = 600;

/** The thumb that held is still down: what comes to lie under it is not to be tapped when it lets go. The next press is a press again. */
function swallowRelease(): void {
  if (typeof document === 'undefined') return;
  const listening = new AbortController();
  const end = (): void => listening.abort();
  const options = { capture: true, signal: listening.signal };
  document.addEventListener('click', (e) => {
    if (!e.isTrusted) return;
    e.preventDefault();
    e.stopPropagation();
    end();
  }, options);
  document.addEventListener('pointerdown', end, options);
  document.addEventListener('pointerup', () => setTimeout(end, CLICK_WITHIN_MS), options);
}

interface Props { label: string; onHeld: () => void; danger?: boolean; disabled?: boolean; style?: StyleProp<ViewStyle>; testID?: string }

/** After a finger, a click that comes so soon is the finger's own, ms; a question waits so long for its answer. */
const OWN_CLICK_MS = 1000;
const ASKS_MS = 8000;

/** A change of the installation's state: confirmed by a hold, so that a pocket cannot do it. The keyboard's Enter counts as a hold; a click without a finger, as a screen reader makes it, is asked back. */
export function HoldButton({ label, onHeld, danger = false, disabled = false, style, testID }: Props) {
  const { colour } = useTheme();
  const [progress, setProgress] = useState(0);
  const timer = useRef<ReturnType<typeof setInterval> | null>(null);
  const pressed = useRef(0);
  const byHandUntil = useRef(0);
  const [asked, setAsked] = useState(false);
  const stop = (): void => {
    if (timer.current) clearInterval(timer.current);
    timer.current = null;
    setProgress(0);
  };
  useEffect(() => stop, []);
  useEffect(() => {
    const forget = asked ? setTimeout(() => setAsked(false), ASKS_MS) : null;
    return () => {
      if (forget !== null) clearTimeout(forget);
    };
  }, [asked]);
  const start = (e: GestureResponderEvent): void => {
    if (disabled) return;
    pressed.current = e.timeStamp;
    byHandUntil.current = Infinity;
    const began = Date.now();
    timer.current = setInterval(() => {
      const part = (Date.now() - began) / HOLD_MS;
      if (part >= 1) {
        stop();
        swallowRelease();
        byHandUntil.current = 0;
        onHeld();
      } else setProgress(part);
    }, 40);
  };
  // On a busy phone the timer comes late: the finger's own times decide then, and a scroll is no release.
  const end = (e: GestureResponderEvent): void => {
    const release = /end$|up$/.test((e.nativeEvent as { type?: string }).type ?? '');
    const held = timer.current !== null && release && e.timeStamp - pressed.current >= HOLD_MS;
    stop();
    byHandUntil.current = Date.now() + OWN_CLICK_MS;
    if (held) onHeld();
  };
  const click = (): void => {
    if (disabled || Date.now() < byHandUntil.current) return;
    setAsked(!asked);
    if (asked) onHeld();
  };
  const key = { onKeyDown: (e: { key: string; preventDefault(): void }) => {
    if (e.key !== 'Enter' || disabled) return;
    e.preventDefault();
    onHeld();
  } };
  return (
    <Pressable
      testID={testID} role="button" aria-label={asked ? `${label}: sure? Press once more` : `${label}, hold`} disabled={disabled} onPress={click} onPressIn={start} onPressOut={end} {...key}
      style={[{ minHeight: TARGET + 4, borderRadius: 11, borderWidth: 1.5, borderColor: danger ? colour.danger : colour.edge, backgroundColor: colour.sheet, overflow: 'hidden', justifyContent: 'center', paddingHorizontal: 14, opacity: disabled ? 0.45 : 1, userSelect: 'none' }, style]}
    >
      <View style={{ position: 'absolute', left: 0, top: 0, bottom: 0, width: `${progress * 100}%`, backgroundColor: colour.hairline }} />
      <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', gap: 10 }}>
        <Words bold colour={danger ? 'danger' : 'ink'} style={{ flexShrink: 1 }}>{label}</Words>
        <Words at="small" colour={asked ? 'ink' : 'soft'} bold={asked} role={asked ? 'status' : undefined}>{asked ? 'sure?' : 'hold'}</Words>
      </View>
    </Pressable>
  );
}
