import type { PartsLine } from '../parts/parts-list';
import { coverList, demoStock, valuesInStock } from '../parts/stock';
import { must } from '../result';
import { readStockCsv, writeStockCsv } from './stock-csv';

let n = 0;
const makeId = () => `k${n++}`;
const line = (patch: Partial<PartsLine>): PartsLine => ({
  kind: 'resistor',
  value: 10e3,
  name: '',
  tolerancePct: 1,
  references: [],
  perBoard: 1,
  total: 1,
  ...patch,
});

test('stock comes back from its file as it went in', () => {
  const stock = demoStock(makeId);
  const back = must(readStockCsv(writeStockCsv(stock), makeId));
  expect(back.map(({ id: _id, ...rest }) => rest)).toEqual(stock.map(({ id: _id, ...rest }) => rest));
});

test('values as makers write them, columns in any order, missing ones left open', () => {
  const [r, c] = must(readStockCsv('Count;Kind;Value\n12;Resistor;4k7\n3;capacitor;2n2\n', makeId));
  expect(r).toMatchObject({
    kind: 'resistor',
    value: 4700,
    count: 12,
    price: null,
    tolerancePct: null,
  });
  expect(c).toMatchObject({ kind: 'capacitor', value: expect.closeTo(2.2e-9, 20), count: 3 });
});

test.each([
  ['value,tolerance\n10k,1\n', 'stock-columns', 'kind'],
  ['kind,value,count\nresistor,ten,3\n', 'stock-lines', 'line 2, value: “ten”'],
  ['kind,value,count\nvalve,10k,3\n', 'stock-lines', 'line 2, kind: “valve”'],
  ['kind,value,count\nresistor,10k,2\nresistor,10k,2.5\n', 'stock-lines', 'line 3, count: “2.5”'],
  ['kind,value,count,price\nresistor,10k,2,-1\n', 'stock-lines', 'line 2, price'],
  ['kind,name,count\nop-amp,,2\n', 'stock-lines', 'line 2, name'],
])('%j is refused, and says where', (text, code, where) => {
  const read = readStockCsv(text, makeId);
  expect(read).toMatchObject({ ok: false, code });
  expect(JSON.stringify(read)).toContain(where);
});

test('what there is covers the list, each part once, and only parts as close as it asks for', () => {
  const stock = must(
    readStockCsv('kind,value,tolerance,count,price\nresistor,10k,1,3,0.05\nresistor,22k,5,50,0.02\n', makeId),
  );
  expect(
    coverList(
      [
        line({ total: 2 }),
        line({ total: 4 }),
        line({ value: 22e3, total: 1 }),
        line({ value: 22e3, tolerancePct: 5, total: 8 }),
      ],
      stock,
    ),
  ).toEqual([
    { have: 2, buy: 0, price: 0.05 },
    { have: 1, buy: 3, price: 0.05 },
    { have: 0, buy: 1, price: null },
    { have: 8, buy: 0, price: 0.02 },
  ]);
  expect(valuesInStock(stock, 'resistor')).toEqual([10e3, 22e3]);
});

test.each([
  ['a tolerance of nothing', 'kind,value,count,tolerance\nresistor,1k,3,0\n', 'tolerance_pct: “0”'],
  ['a name longer than a label', `kind,value,count,name\nresistor,1k,3,${'x'.repeat(81)}\n`, 'name: “xxxx'],
  ['a grade longer than a label', `kind,value,count,grade\nresistor,1k,3,${'x'.repeat(61)}\n`, 'grade: “xxxx'],
])('%s is refused with its line, and nothing is taken', (_, text, said) => {
  const read = readStockCsv(text, makeId);
  expect(read).toMatchObject({ ok: false, code: 'stock-lines' });
  expect(!read.ok && (read.data.faults as string[])[0]).toMatch(/^line 2, /);
  expect(!read.ok && (read.data.faults as string[])[0]).toContain(said);
});

test('headings that every object has of itself are columns like others', () => {
  const [item] = must(readStockCsv('kind,value,count,constructor,__proto__\nresistor,1k,3,x,{"a":1}\n', makeId));
  expect(Object.keys(item).sort()).toEqual(
    ['count', 'grade', 'id', 'kind', 'name', 'price', 'tolerancePct', 'value'].sort(),
  );
  expect(Object.getPrototypeOf(item)).toBe(Object.prototype);
  expect(readStockCsv('constructor,count\nresistor,3\n', makeId)).toMatchObject({ code: 'stock-columns' });
});
