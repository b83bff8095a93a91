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
  setName(name: ThemeName): void;
  setLeftHand(left: boolean): void;
}

const Context = createContext<Theme | null>(null);
const THEME_KEY = 'gutter-theme';
const HAND_KEY = 'gutter-left-hand';
export const WIDE_FROM = 900;

export function ThemeProvider({ children }: { children: ReactNode }) {
  const [name, setName] = useState<ThemeName>(() => (document.documentElement.classList.contains('loft') ? 'loft' : 'daylight'));
  const [leftHand, setLeftHand] = useState(false);
  const { width } = useWindowDimensions();
  useEffect(() => {
    void AsyncStorage.getItem(HAND_KEY).then((v) => setLeftHand(v === 'yes'));
  }, []);
  useEffect(() => {
    document.documentElement.classList.toggle('loft', name === 'loft');
    document.querySelector('meta[name=theme-color]')?.setAttribute('content', themes[name].paper);
  }, [name]);
  const value = useMemo<Theme>(() => ({
    name, colour: themes[name], leftHand, wide: width >= WIDE_FROM,
    setName: (next) => {
      setName(next);
      void AsyncStorage.setItem(THEME_KEY, next);
    },
    setLeftHand: (left) => {
      setLeftHand(left);
      void AsyncStorage.setItem(HAND_KEY, left ? 'yes' : 'no');
    },
  }), [name, leftHand, width]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useTheme(): Theme {
  const theme = useContext(Context);
  if (!theme) throw new Error('no theme above');
  return theme;
}
