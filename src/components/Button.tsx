import { Pressable, View, type StyleProp, type ViewStyle } from 'react-native';
import { TARGET, useTheme } from '@/theme';
import { Words } from './Words';

interface Props {
  label: string;
  onPress: () => void;
  /** main: ink on paper, one per screen; plain: outlined; danger: outlined in the colour of danger; quiet: words alone. */
  kind?: 'main' | 'plain' | 'danger' | 'quiet' | 'chosen';
  hint?: string;
  disabled?: boolean;
  grow?: boolean;
  figure?: boolean;
  small?: boolean;
  style?: StyleProp<ViewStyle>;
  testID?: string;
  accessibilityLabel?: string;
}

export function Button({ label, onPress, kind = 'plain', hint, disabled = false, grow = false, figure = false, small = false, style, testID, accessibilityLabel }: Props) {
  const { colour } = useTheme();
  const full = kind === 'main' || kind === 'chosen';
  const fore = full ? 'paper' : kind === 'danger' ? 'danger' : 'ink';
  return (
    <Pressable
      testID={testID}
      role="button"
      aria-label={accessibilityLabel ?? label}
      aria-disabled={disabled}
      {...(hint ? { 'aria-keyshortcuts': hint } : {})}
      aria-pressed={kind === 'chosen' ? true : undefined}
      disabled={disabled}
      onPress={onPress}
      style={({ pressed }) => [
        {
          minHeight: kind === 'main' ? 54 : TARGET, paddingHorizontal: 12, paddingVertical: 8, borderRadius: 11, alignItems: 'center', justifyContent: 'center', flexDirection: 'row', gap: 8,
          backgroundColor: full ? colour.ink : kind === 'quiet' ? 'transparent' : colour.sheet,
          borderWidth: kind === 'quiet' ? 0 : 1.5, borderColor: full ? colour.ink : kind === 'danger' ? colour.danger : colour.edge,
          opacity: disabled ? 0.45 : pressed ? 0.75 : 1,
        },
        grow && { flex: 1 },
        style,
      ]}
    >
      <Words bold figure={figure} at={small ? 'small' : kind === 'main' ? 'lead' : 'body'} colour={fore} align="center">{label}</Words>
      {hint ? <View aria-hidden><Words at="small" colour={full ? 'paper' : 'soft'}>{hint}</Words></View> : null}
    </Pressable>
  );
}
