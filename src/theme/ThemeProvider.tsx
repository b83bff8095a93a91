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
  readonly setName: (name: ThemeName) => void;
  readonly setLeftHand: (left: boolean) => void;
}

const Context = createContext<Theme | null>(null);
const THEME_KEY = 'gutter-theme';
const HAND_KEY = 'gutter-left-hand';
export const WIDE_FROM = 900;
const FLAT = { from: 600, below: 500 } as const;
const LOW_BELOW = 640;

export function ThemeProvider({ children }: { children: ReactNode }) {
  const [name, setName] = useState<ThemeName>(() => (document.documentElement.classList.contains('loft') ? 'loft' : 'daylight'));
  const [leftHand, setLeftHand] = useState(false);
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
    name, colour: themes[name], leftHand, wide: width >= WIDE_FROM && !flat, flat, low: height < LOW_BELOW,
    setName: (next) => {
      setName(next);
      void AsyncStorage.setItem(THEME_KEY, next);
    },
    setLeftHand: (left) => {
      setLeftHand(left);
      void AsyncStorage.setItem(HAND_KEY, left ? 'yes' : 'no');
    },
  }), [name, leftHand, width, flat, height]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useTheme(): Theme {
  const theme = useContext(Context);
  if (!theme) throw new Error('no theme above');
  return theme;
}
