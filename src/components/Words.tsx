import type { ReactNode } from 'react';
import { StyleSheet, Text, type StyleProp, type TextStyle } from 'react-native';
import { size, useTheme, type Tokens } from '@/theme';

interface Props {
  children: ReactNode;
  at?: keyof typeof size;
  bold?: boolean;
  /** Figures: the monospaced cut. */
  figure?: boolean;
  colour?: keyof Tokens;
  align?: 'left' | 'right' | 'center';
  style?: StyleProp<TextStyle>;
  lines?: number;
  role?: 'heading' | 'status' | 'alert';
  level?: number;
  testID?: string;
}

const roomy = { small: 19, body: 22, lead: 24, title: 28, big: 36 } as const;

/** What is said in px at the usual size of words follows it. */
function scaled(style: TextStyle, by: number): TextStyle {
  if (by === 1) return style;
  const { fontSize, lineHeight, width, minWidth } = style;
  const times = (x: unknown): number | undefined => (typeof x === 'number' ? x * by : undefined);
  return { ...style, fontSize: times(fontSize), lineHeight: times(lineHeight), ...(typeof width === 'number' ? { width: times(width) } : {}), ...(typeof minWidth === 'number' ? { minWidth: times(minWidth) } : {}) };
}

/** All text of the app: words in the proportional cut, figures in the monospaced one. */
export function Words({ children, at = 'body', bold = false, figure = false, colour = 'ink', align = 'left', style, lines, role, level, testID }: Props) {
  const theme = useTheme();
  return (
    <Text
      testID={testID}
      role={role}
      aria-level={role === 'heading' ? (level ?? 2) : undefined}
      aria-live={role === 'status' ? 'polite' : role === 'alert' ? 'assertive' : undefined}
      numberOfLines={lines}
      style={scaled({ fontFamily: figure ? 'Mono' : 'Next', fontSize: size[at], lineHeight: roomy[at], fontWeight: bold ? '700' : '400', color: theme.colour[colour], textAlign: align, ...StyleSheet.flatten(style) }, theme.text)}
    >
      {children}
    </Text>
  );
}
