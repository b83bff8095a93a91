import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { plainFault } from '.';

test.each(['ring, 5', 'lights, 4, two-way switch', '6 ways, three phase, RCD on 1 to 3, RCD on 4 to 6', 'tree, 4'])('%s: every fault in words that need no electrician: whole, without letters of conductors, terms or ids', (phrase) => {
  const map = draft(phrase);
  for (const s of suspectsOf(map)) {
    const said = plainFault(map, s);
    expect(said).toMatch(/^[A-Z][^.]*[^. ]$/);
    expect(said).not.toMatch(/\b(L|N|E|CPC|SL|N–E|L–E|L–N|MET)\b|undefined|\b[psc]\d+\b|  /);
  }
});

test('what is dangerous about it is kept: a lost earth, a live wire on earth, a joint that heats', () => {
  const map = draft('radial, 3');
  const said = (id: RegExp): string => plainFault(map, suspectsOf(map).find((s) => id.test(s.id)) as Parameters<typeof plainFault>[1]);
  expect(said(/^loose .*:E$/)).toMatch(/earth wire was not connected/);
  expect(said(/^contact s\d:LE/)).toMatch(/live wire touched earth in the cable between/);
  expect(said(/^contact s\d:LN/)).toMatch(/two supply wires touched each other/);
  expect(said(/^resistive .*:N$/)).toMatch(/poor connection .* hot/);
});
