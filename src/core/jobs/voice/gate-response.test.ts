import { demoDesigns } from '../../design/demo/demo';
import { must } from '../../result';
import { cellOhmOf } from '../../circuit/elements/optocoupler';
import { photocellValues, USUAL_PHOTOCELL } from '../../device/photocell';
import { runGateResponse } from './gate-response';

const pluck = demoDesigns().find((d) => d.title.startsWith('Plucked'))!;
const of = (gateS: number) =>
  must(runGateResponse({ kind: 'gate-response', design: pluck, variantId: pluck.currentVariant, gateS }))!;

test('a cell opens and closes as the exponentials of its light say', () => {
  const { cells, timeS } = of(0.5);
  expect(cells.map((c) => c.name)).toEqual(['D1', 'D2']);
  for (const { ohm, litOhm, openS, closeS } of cells) {
    // Conductance goes as light^0.9; light rises with 5 ms and falls with 80 ms.
    expect(openS).toBeCloseTo(-5e-3 * Math.log(1 - 1.1 ** (-1 / 0.9)), 3);
    expect(closeS! / (80e-3 * Math.log(10 ** (1 / 0.9)))).toBeCloseTo(1, 1);
    expect(ohm[0]).toBeGreaterThan(4e6);
    expect(ohm[timeS.findIndex((t) => t > 0.45)] / litOhm).toBeCloseTo(1, 3);
    // Lamps in a row share one current: by the law of the cell.
    expect(litOhm).toBeGreaterThan(cellOhmOf(photocellValues(USUAL_PHOTOCELL).values, 1));
  }
});

test('a gate too short to open it says so, and where nothing is lit there is nothing to say', () => {
  expect(of(0.004).cells[0].openS).toBeNull();
  const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;
  expect(
    must(runGateResponse({ kind: 'gate-response', design: voice, variantId: voice.currentVariant, gateS: 0.1 })),
  ).toBeNull();
  expect(runGateResponse({ kind: 'gate-response', design: voice, variantId: 'nobody', gateS: 0.1 })).toMatchObject({
    ok: false,
    code: 'no-such-variant',
  });
});

test(
  'an envelope: the cell opens no sooner than the lamp has risen, and closes the later the longer it ' + 'dies away',
  () => {
    const [plain, slow] = [{}, { attackS: 0.2, decayS: 0.3 }].map(
      (envelope) =>
        must(
          runGateResponse({
            kind: 'gate-response',
            design: pluck,
            variantId: pluck.currentVariant,
            gateS: 0.5,
            ...envelope,
          }),
        )!.cells[0],
    );
    // Within a tenth of its resistance when the current has risen to 1.1^(−1/0.9) of its own: a hundred and eighty of
    // the two hundred milliseconds.
    expect(slow.openS).toBeGreaterThan(0.2 * 1.1 ** (-1 / 0.9));
    expect(slow.openS).toBeLessThan(0.21);
    expect(plain.openS).toBeLessThan(0.02);
    // Its own eighty milliseconds and the lamp's three hundred: later than the lamp alone would have it.
    expect(slow.closeS).toBeGreaterThan(0.3 * Math.log(10 ** (1 / 0.9)));
    expect(plain.closeS).toBeLessThan(0.22);
  },
);
