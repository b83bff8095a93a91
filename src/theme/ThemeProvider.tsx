import AsyncStorage from '@react-native-async-storage/async-storage';
import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import { useWindowDimensions } from 'react-native';
import { themes, type ThemeName, type Tokens } from './tokens';

interface Theme {
  readonly name: ThemeName;
  readonly colour: Tokens;
  readonly leftHand: boolean;
  /** Wide screens lay the work side by side. */
  readonly wide: boolean;
  /** A phone on its side: the work lies side by side there too, in what height there is. */
  readonly flat: boolean;
  /** A low screen: what can wait is folded away, so that the main action and the picture both stay. */
  readonly low: boolean;
  /** Times the usual size of words: what the browser is set to and what the person chose. */
  readonly text: number;
  /** Words so large that what else stands side by side stands one below the other. */
  readonly large: boolean;
  /** What the person chose of it. */
  readonly textPercent: TextPercent;
  readonly setName: (name: ThemeName) => void;
  readonly setLeftHand: (left: boolean) => void;
  readonly setText: (percent: TextPercent) => void;
}

const Context = createContext<Theme | null>(null);
const THEME_KEY = 'gutter-theme';
const HAND_KEY = 'gutter-left-hand';
const TEXT_KEY = 'gutter-text';
export const WIDE_FROM = 900;
const FLAT = { from: 600, below: 500 } as const;
const LOW_BELOW = 640;
const LARGE_FROM = 1.3;
const SMALLEST = 0.8;
const LARGEST = 2.5;

/** Sizes of words to choose from, per cent of what the browser is set to. */
export const textPercents = ['100', '125', '150', '200'] as const;
export type TextPercent = (typeof textPercents)[number];

/** The size of words is that of the root of the page (public/theme.js sets what was chosen): all words follow it. */
function textOfPage(): number {
  const px = parseFloat(getComputedStyle(document.documentElement).fontSize);
  return Number.isFinite(px) && px > 0 ? Math.min(LARGEST, Math.max(SMALLEST, px / 16)) : 1;
}

/** What was chosen here, of what the browser is set to. */
const textChosen = (): TextPercent => textPercents.find((p) => document.documentElement.style.fontSize === `${p}%`) ?? '100';

export function ThemeProvider({ children }: { children: ReactNode }) {
  const [name, setName] = useState<ThemeName>(() => (document.documentElement.classList.contains('loft') ? 'loft' : 'daylight'));
  const [leftHand, setLeftHand] = useState(false);
  const [{ text, textPercent }, setSizes] = useState(() => ({ text: textOfPage(), textPercent: textChosen() }));
  const { width, height } = useWindowDimensions();
  const flat = width >= FLAT.from && height < FLAT.below;
  useEffect(() => {
    void AsyncStorage.getItem(HAND_KEY).then((v) => setLeftHand(v === 'yes'));
  }, []);
  useEffect(() => {
    document.documentElement.classList.toggle('loft', name === 'loft');
    document.querySelector('meta[name=theme-color]')?.setAttribute('content', themes[name].paper);
  }, [name]);
  const value = useMemo<Theme>(() => ({
    name, colour: themes[name], leftHand, wide: width >= WIDE_FROM * text && !flat, flat, low: height < LOW_BELOW * text, text, textPercent, large: text >= LARGE_FROM,
    setName: (next) => {
      setName(next);
      void AsyncStorage.setItem(THEME_KEY, next);
    },
    setLeftHand: (left) => {
      setLeftHand(left);
      void AsyncStorage.setItem(HAND_KEY, left ? 'yes' : 'no');
    },
    setText: (percent) => {
      document.documentElement.style.fontSize = `${percent}%`;
      setSizes({ text: textOfPage(), textPercent: percent });
      void AsyncStorage.setItem(TEXT_KEY, percent);
    },
  }), [name, leftHand, width, flat, height, text, textPercent]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useTheme(): Theme {
  const theme = useContext(Context);
  if (!theme) throw new Error('no theme above');
  return theme;
}
