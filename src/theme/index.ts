export { textPercents, ThemeProvider, useTheme, WIDE_FROM } from './ThemeProvider';
export { size, TARGET, themes, type ThemeName, type Tokens } from './tokens';
