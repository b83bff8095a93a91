// Makes the shipped fonts: the letters that Gutter uses, cut from the full fonts. Run by hand when letters are added.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import subsetFont from 'subset-font';

const latin = Array.from({ length: 0x17f - 0x20 }, (_, i) => String.fromCharCode(0x20 + i)).join('');
const letters = `${latin}ΩμΔ≥≤≠≈√±×÷·–—‘’“”„…•→←↑↓↔✓✕−∞°²³½¼¾⌫ `;
const fonts = [
  ['@expo-google-fonts/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf', 'ahn-400'],
  ['@expo-google-fonts/atkinson-hyperlegible-next/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf', 'ahn-700'],
  ['@expo-google-fonts/atkinson-hyperlegible-mono/400Regular/AtkinsonHyperlegibleMono_400Regular.ttf', 'ahm-400'],
  ['@expo-google-fonts/atkinson-hyperlegible-mono/700Bold/AtkinsonHyperlegibleMono_700Bold.ttf', 'ahm-700'],
];
mkdirSync('public/fonts', { recursive: true });
for (const [from, name] of fonts) {
  const full = readFileSync(`node_modules/${from}`);
  for (const [format, extension] of [['woff2', 'woff2'], ['truetype', 'ttf']]) {
    if (extension === 'ttf' && name === 'ahm-400') continue;
    const cut = await subsetFont(full, letters, { targetFormat: format });
    writeFileSync(`public/fonts/${name}.${extension}`, cut);
    console.log(name, extension, cut.length);
  }
}
