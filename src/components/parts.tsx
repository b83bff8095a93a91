import type { ReactNode } from 'react';
import { Pressable, TextInput, View, type StyleProp, type ViewStyle } from 'react-native';
import { TARGET, useTheme } from '@/theme';
import { Words } from './Words';

/** Caution next to the thumb: the colour of danger and a bar at its left edge. */
export function Caution({ title, children, testID }: { title?: string; children: ReactNode; testID?: string }) {
  const { colour } = useTheme();
  return (
    <View testID={testID} role="note" style={{ backgroundColor: colour.dangerWash, borderLeftWidth: 6, borderLeftColor: colour.danger, borderRadius: 10, paddingHorizontal: 12, paddingVertical: 10, gap: 4 }}>
      {title ? <Words at="lead" bold role="heading">{title}</Words> : null}
      <Words>{children}</Words>
    </View>
  );
}

/** What went wrong and the way out. */
export function Problem({ text, action, onAction, testID = 'problem' }: { text: string; action?: string; onAction?: () => void; testID?: string }) {
  const { colour } = useTheme();
  return (
    <View testID={testID} role="alert" style={{ backgroundColor: colour.dangerWash, borderLeftWidth: 6, borderLeftColor: colour.danger, borderRadius: 10, padding: 12, gap: 8 }}>
      <Words>{text}</Words>
      {action && onAction ? (
        <Pressable role="button" onPress={onAction} style={{ minHeight: TARGET, justifyContent: 'center' }}>
          <Words bold style={{ textDecorationLine: 'underline' }}>{action}</Words>
        </Pressable>
      ) : null}
    </View>
  );
}

export function Field({ label, value, onChange, placeholder, onSubmit, figure = false, autoFocus = false, testID, keyboard, unit }: {
  label: string; value: string; onChange: (v: string) => void; placeholder?: string; onSubmit?: () => void; figure?: boolean; autoFocus?: boolean; testID?: string; keyboard?: 'decimal-pad'; unit?: string;
}) {
  const { colour, text } = useTheme();
  return (
    <View style={{ gap: 4 }}>
      <Words at="small" colour="soft">{label}</Words>
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: 8 }}>
        <TextInput
          testID={testID} aria-label={label} value={value} onChangeText={onChange} placeholder={placeholder} placeholderTextColor={colour.soft} onSubmitEditing={onSubmit} autoFocus={autoFocus} inputMode={keyboard === 'decimal-pad' ? 'decimal' : 'text'}
          style={{ flex: 1, minWidth: 0, minHeight: TARGET, borderWidth: 1.5, borderColor: colour.edge, borderRadius: 10, paddingHorizontal: 12, fontFamily: figure ? 'Mono' : 'Next', fontSize: 18 * text, color: colour.ink, backgroundColor: colour.sheet }}
        />
        {unit ? <Words figure>{unit}</Words> : null}
      </View>
    </View>
  );
}

/** One of a few: outlined words; the chosen one is full. */
export function Choice<T extends string>({ options, value, onChange, label, testID }: { options: readonly { value: T; label: string }[]; value: T | null; onChange: (v: T) => void; label: string; testID?: string }) {
  const { colour } = useTheme();
  return (
    <View role="radiogroup" aria-label={label} testID={testID} style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
      {options.map((o) => {
        const chosen = o.value === value;
        return (
          <Pressable key={o.value} role="radio" aria-checked={chosen} aria-label={o.label} onPress={() => onChange(o.value)}
            style={{ minHeight: TARGET, maxWidth: '100%', paddingHorizontal: 14, borderRadius: 11, borderWidth: 1.5, borderColor: chosen ? colour.ink : colour.edge, backgroundColor: chosen ? colour.ink : colour.sheet, justifyContent: 'center' }}>
            <Words bold={chosen} colour={chosen ? 'paper' : 'ink'}>{o.label}</Words>
          </Pressable>
        );
      })}
    </View>
  );
}

/** Yes or no, as a whole row. */
export function Tick({ label, value, onChange, testID }: { label: string; value: boolean; onChange: (v: boolean) => void; testID?: string }) {
  const { colour } = useTheme();
  return (
    <Pressable testID={testID} role="checkbox" aria-checked={value} aria-label={label} onPress={() => onChange(!value)} style={{ minHeight: TARGET + 4, flexDirection: 'row', alignItems: 'center', gap: 12 }}>
      <View style={{ width: 28, height: 28, borderRadius: 7, borderWidth: 1.5, borderColor: value ? colour.ink : colour.edge, backgroundColor: value ? colour.ink : colour.sheet, alignItems: 'center', justifyContent: 'center' }}>
        {value ? <Words bold colour="paper">✓</Words> : null}
      </View>
      <Words style={{ flexShrink: 1 }}>{label}</Words>
    </Pressable>
  );
}

/** A row that is one target. */
export function RowButton({ children, onPress, label, testID, style, disabled = false }: { children: ReactNode; onPress: () => void; label?: string; testID?: string; style?: StyleProp<ViewStyle>; disabled?: boolean }) {
  const { colour } = useTheme();
  return (
    <Pressable testID={testID} role="button" aria-label={label} onPress={onPress} disabled={disabled}
      style={({ pressed }) => [{ minHeight: TARGET + 4, flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 12, borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingVertical: 8, backgroundColor: pressed ? colour.hairline : 'transparent' }, style]}>
      {children}
    </Pressable>
  );
}

export function Label({ children }: { children: string }) {
  return <Words at="small" bold colour="soft" style={{ letterSpacing: 0.6 }}>{children.toUpperCase()}</Words>;
}

/** What may be read, what it would mean, and how likely it is; of large words the meaning has a line of its own. `figure`: what may be read is one. */
export function OutcomeRow({ range, meaning, share, figure = false }: { range: string; meaning: string; share: string; figure?: boolean }) {
  const { large } = useTheme();
  const size = figure ? { fontSize: 15.5 } : {};
  return (
    <View style={{ flexDirection: 'row', flexWrap: large ? 'wrap' : 'nowrap', justifyContent: 'space-between', columnGap: 10, alignItems: 'baseline' }}>
      <Words figure={figure} bold style={large ? { ...size, flexShrink: 1 } : { ...size, width: figure ? 138 : 118 }}>{range}</Words>
      {large ? <Words figure lines={1}>{share}</Words> : null}
      <Words style={large ? { width: '100%' } : { flex: 1 }}>{meaning}</Words>
      {large ? null : <Words figure align="right" lines={1} style={{ width: 66 }}>{share}</Words>}
    </View>
  );
}
