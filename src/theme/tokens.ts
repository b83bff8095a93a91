/** Colours by theme. Suspicion is magenta and nothing else is; danger is burnt orange; conductor colours follow the standard. */
export interface Tokens {
  readonly paper: string; readonly sheet: string; readonly ink: string; readonly soft: string; readonly hairline: string; readonly edge: string;
  readonly suspect: string; readonly suspectWash: string; readonly settled: string; readonly danger: string; readonly dangerWash: string;
  readonly coreLine: string; readonly coreNeutral: string; readonly coreEarth: string; readonly coreEarthStripe: string;
  /** Behind sheets; dark in both themes, so that nothing flashes in a dark cupboard. */
  readonly veil: string;
}

export const daylight: Tokens = {
  paper: '#F4EFE4', sheet: '#FFFDF8', ink: '#1E1B16', soft: '#6B6456', hairline: '#D8D0BF', edge: '#857D6C',
  suspect: '#B3006B', suspectWash: '#F7DCEB', settled: '#5E6F57', danger: '#B0380A', dangerWash: '#FBE6D6',
  coreLine: '#7A4A21', coreNeutral: '#1F5FA8', coreEarth: '#2E7D32', coreEarthStripe: '#E8C61C', veil: '#1E1B16',
};

export const loft: Tokens = {
  paper: '#14150F', sheet: '#1E2018', ink: '#F1EDE0', soft: '#A9A491', hairline: '#3A3C30', edge: '#74766A',
  suspect: '#FF6FBF', suspectWash: '#4A1A37', settled: '#9DB08F', danger: '#FF9A5A', dangerWash: '#4A2A14',
  coreLine: '#C98A55', coreNeutral: '#6FA8F0', coreEarth: '#5DBB63', coreEarthStripe: '#F0D94A', veil: '#0A0B07',
};

export const themes = { daylight, loft } as const;
export type ThemeName = keyof typeof themes;

/** Sizes of words, in px; figures use the same in the monospaced cut. */
export const size = { small: 14, body: 16, lead: 18, title: 22, big: 30 } as const;
export const TARGET = 48;

type Pair = { readonly fore: keyof Tokens; readonly back: keyof Tokens; readonly least: number; readonly where: string };

/** Every pair of colours that meets on a screen, with the contrast it must have (WCAG 2). */
export const pairsInUse: readonly Pair[] = [
  { fore: 'ink', back: 'paper', least: 7, where: 'text and figures on the page' },
  { fore: 'ink', back: 'sheet', least: 7, where: 'text and figures on sheets, next-step figures' },
  { fore: 'ink', back: 'dangerWash', least: 7, where: 'caution text' },
  { fore: 'ink', back: 'suspectWash', least: 7, where: 'explanations of suspicion' },
  { fore: 'soft', back: 'paper', least: 4.5, where: 'labels on the page' },
  { fore: 'soft', back: 'sheet', least: 4.5, where: 'labels on sheets' },
  { fore: 'paper', back: 'ink', least: 7, where: 'main action' },
  { fore: 'suspect', back: 'paper', least: 4.5, where: 'shares on the strip' },
  { fore: 'suspect', back: 'sheet', least: 4.5, where: 'shares in the list' },
  { fore: 'danger', back: 'paper', least: 4.5, where: 'dangerous actions on the page' },
  { fore: 'danger', back: 'sheet', least: 4.5, where: 'dangerous actions on sheets' },
  { fore: 'settled', back: 'paper', least: 3, where: 'marks of what is done (beside words in ink)' },
  { fore: 'settled', back: 'sheet', least: 3, where: 'marks of what is done (beside words in ink)' },
  { fore: 'edge', back: 'paper', least: 3, where: 'outlines of controls' },
  { fore: 'edge', back: 'sheet', least: 3, where: 'outlines of controls' },
  { fore: 'coreLine', back: 'paper', least: 3, where: 'lane L' },
  { fore: 'coreNeutral', back: 'paper', least: 3, where: 'lane N' },
  { fore: 'coreEarth', back: 'paper', least: 3, where: 'lane E' },
  { fore: 'coreLine', back: 'sheet', least: 3, where: 'lane L on the wide strip' },
  { fore: 'coreNeutral', back: 'sheet', least: 3, where: 'lane N on the wide strip' },
  { fore: 'coreEarth', back: 'sheet', least: 3, where: 'lane E on the wide strip' },
];

/** WCAG 2 contrast ratio of two colours in #RRGGBB. */
export function contrast(a: string, b: string): number {
  const luminance = (hex: string): number => {
    const [r = 0, g = 0, bl = 0] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255).map((v) => (v <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4));
    return 0.2126 * r + 0.7152 * g + 0.0722 * bl;
  };
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return ((x ?? 0) + 0.05) / ((y ?? 0) + 0.05);
}
