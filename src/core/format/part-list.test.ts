import { must } from '../result';
import { drawLadder } from '../topology/kit/ladder';
import { deckTopology } from './deck/deck-topology';
import { readPartList, TYPICAL_FORMS } from './part-list';

const deckOf = (list: string) => must(readPartList(list)).deck.text.split('\n').slice(2);

test.each<[list: string, deck: string[], output: string]>([
  ['1.2 mH, across 10 uF', ['L1 in n1 0.0012', 'C1 n1 0 0.00001'], 'n1'],
  ['4.7uF; 3R3 across', ['C1 in n1 0.0000047', 'R1 n1 0 3.3'], 'n1'],
  ['6,8 µF\n0,33 mH across\n2R7', ['C1 in n1 0.0000068', 'L1 n1 0 0.00033', 'R1 n1 n2 2.7'], 'n2'],
  ['1 mH, across 8.2 ohm + 12 uF', ['L1 in n1 0.001', 'R1 n1 m2 8.2', 'C1 m2 0 0.000012'], 'n1'],
  ['| 10uF, 1mH', ['C1 in 0 0.00001', 'L1 in n1 0.001'], 'n1'],
  ['0.15 mH || 6.8 uF || 15R', ['L1 in n1 0.00015', 'C1 in n1 0.0000068', 'R1 in n1 15'], 'n1'],
  ['1 mH + 0.5 ohm', ['L1 in m2 0.001', 'R1 m2 n1 0.5'], 'n1'],
  ['1mH, across 10uF || 22R', ['L1 in n1 0.001', 'C1 n1 0 0.00001', 'R1 n1 0 22'], 'n1'],
])('%j is so wired', (list, deck, output) => {
  const asNumbers = (lines: string[]) => lines.map((l) => l.split(' ').map((w, i) => (i === 3 ? Number(w) : w)));
  expect(asNumbers(deckOf(list))).toEqual(asNumbers(deck));
  expect(must(readPartList(list)).deck.output).toBe(output);
});

test.each<[string, object]>([
  ['', { message: 'there is no part in it' }],
  ['1 mH, 10u', { item: '10u' }],
  ['1 mH, lamp', { item: 'lamp' }],
  ['across 10 uF', { item: 'across 10 uF' }],
  ['1 mH + 2R || 3uF', { item: '1 mH + 2R || 3uF' }],
  ['-3 mH', { item: '-3 mH' }],
  [Array.from({ length: 31 }, () => '1 mH').join(', '), { message: 'more than 30 parts' }],
])('%j is refused, and says where', (list, data) => {
  expect(readPartList(list)).toMatchObject({ ok: false, code: 'part-list', data });
});

test.each(TYPICAL_FORMS.map((f) => [f.name, f.list]))('%s reads, is drawn and stands', (_, list) => {
  const { arms, deck, values } = must(readPartList(list));
  expect(drawLadder(arms).parts).toHaveLength(Object.keys(values).length);
  must(deckTopology(deck));
});
