import { levelAt } from '@/core/analysis/curves/marks';
import { placeLabels } from './label-places';
import { delayAxis, levelAxis, phaseAxis, voltAxis } from './axes';
import { markName } from './mark-words';
import { changedSince } from '@/store/questions/long-job';
import { viewStore } from '@/store/view';
import { shownTraces } from '@/store/curves/shown-traces';
import { demoDesigns } from '@/core/design/demo/demo';
import { runDesk } from '@/core/jobs/desk/desk';
import { AcSolver } from '@/core/analysis/ac/solver';
import { must } from '@/core/result';

const [, , band] = demoDesigns();
const desk = must(
  runDesk(
    {
      kind: 'desk',
      design: band,
      variantId: band.currentVariant,
      ghostVariantId: band.variants[1].id,
      grid: { fromHz: 5, toHz: 50e3, points: 201 },
    },
    new AcSolver(),
  ),
);
const all = viewStore.getState().shown;
const measurement = {
  id: 'm',
  name: 'sweep',
  at: '2026-01-01T00:00:00.000Z',
  freqHz: [300, 600, 1000],
  levelDb: [-10, -10, -10],
  phaseDeg: null,
  aligned: true,
};

describe('traces', () => {
  const sources = {
    desk,
    measurements: [measurement],
    ownName: 'A',
    ghostName: 'B',
    shown: all,
    flipped: false,
  };

  test('are painted with the built one on top', () => {
    expect(shownTraces(sources).map((t) => t.name)).toEqual(['ideal', 'B ghost', 'sweep', 'A as built']);
  });

  test('kept curves lie under all others, unless hidden, each with dashes of its own', () => {
    const curve = (id: string, hidden = false) => ({
      id,
      name: `kept ${id}`,
      hidden,
      freqHz: [10, 100],
      levelDb: [0, -1],
      phaseDeg: [0, -10],
      delayS: [0, 0],
    });
    const traces = shownTraces({ ...sources, kept: [curve('1'), curve('2', true), curve('3')] });
    expect(traces.map((t) => t.name)).toEqual(['kept 1', 'kept 3', 'ideal', 'B ghost', 'sweep', 'A as built']);
    expect(new Set(traces.slice(0, 2).map((t) => t.look)).size).toBe(2);
  });

  test('flipped, the ghost is in front and the built one behind', () => {
    const flipped = shownTraces({ ...sources, flipped: true });
    expect(flipped.at(-1)).toMatchObject({ name: 'B as built', levelDb: desk.ghost?.levelDb });
    expect(flipped.find((t) => t.kind === 'ghost')).toMatchObject({
      name: 'A ghost',
      levelDb: desk.asBuilt.levelDb,
    });
  });

  test('an aligned measurement lies on the pass band', () => {
    const shown = shownTraces(sources).find((t) => t.kind === 'measured');
    const built = measurement.freqHz.map((f) => levelAt(desk.freqHz, desk.asBuilt.levelDb, f)).sort((a, b) => a - b);
    expect(shown?.levelDb[0]).toBeCloseTo(built[1], 9);
    expect(shown?.levelDb[0]).toBeCloseTo(desk.passLevelDb, 0);
  });

  test('a measured phase is drawn in the turn of the prediction', () => {
    const built = measurement.freqHz.map((f) => levelAt(desk.freqHz, desk.asBuilt.phaseDeg, f));
    const turned = { ...measurement, phaseDeg: built.map((p) => p - 720 + 3) };
    const shown = shownTraces({ ...sources, measurements: [turned] }).find((t) => t.kind === 'measured');
    built.forEach((p, i) => expect(shown?.phaseDeg?.[i]).toBeCloseTo(p + 3, 9));
  });

  test('what is switched off is not there', () => {
    expect(
      shownTraces({
        ...sources,
        shown: { ...all, ideal: false, ghost: false, measured: false },
      }).map((t) => t.kind),
    ).toEqual(['asBuilt']);
  });

  test('a spread is stale once the circuit, the tolerances or the surroundings are others', () => {
    expect(changedSince(band, { ...band, log: [] })).toBe(false);
    expect(changedSince(band, { ...band, preferences: { ...band.preferences, boards: 2 } })).toBe(true);
    expect(changedSince(band, { ...band, variants: [...band.variants] })).toBe(true);
  });
});

describe('axes', () => {
  test('levels reach from over the peak seventy dB down', () => {
    const axis = levelAxis(desk);
    expect(axis.to - axis.from).toBe(70);
    expect(axis.to).toBeGreaterThan(Math.max(...desk.asBuilt.levelDb));
    expect(axis.format(10)).toBe('+10');
    expect(axis.format(-10)).toBe('−10');
  });

  test('phase holds the built curve and the ghost, on round angles', () => {
    const axis = phaseAxis(desk);
    for (const v of [...desk.asBuilt.phaseDeg, ...(desk.ghost?.phaseDeg ?? [])]) {
      expect(v).toBeGreaterThanOrEqual(axis.from - 1);
      expect(v).toBeLessThanOrEqual(axis.to + 1);
    }
    for (const tick of axis.labelled) expect(Math.abs(tick % 90)).toBe(0);
  });

  test('delay starts at zero; volts leave room', () => {
    expect(delayAxis(desk).from).toBe(0);
    const axis = voltAxis([Float64Array.of(0, 1), Float64Array.of(-0.5, 0.2)]);
    expect(axis.from).toBeLessThan(-0.5);
    expect(axis.to).toBeGreaterThan(1);
  });
});

describe('labels of marks', () => {
  const area = { x: 0, y: 0, width: 400, height: 300 };
  const nothing = () => [];

  test('two marks in one place get labels that do not meet', () => {
    const [a, b] = placeLabels(
      ['a', 'b'].map((key) => ({ key, x: 200, y: 150, width: 80, height: 14 })),
      area,
      nothing,
    );
    const apart = Math.abs(a.y - b.y) >= 14 || a.x + 80 < b.x || b.x + 80 < a.x;
    expect(apart).toBe(true);
  });

  test('a mark at the right edge is written to its left', () => {
    const [place] = placeLabels([{ key: 'a', x: 390, y: 150, width: 80, height: 14 }], area, nothing);
    expect(place.x + 80).toBeLessThanOrEqual(400);
  });

  test('a curve through the first place sends the label elsewhere', () => {
    const [free] = placeLabels([{ key: 'a', x: 200, y: 150, width: 80, height: 14 }], area, nothing);
    const [moved] = placeLabels([{ key: 'a', x: 200, y: 150, width: 80, height: 14 }], area, (x) =>
      x > 200 ? [150] : [],
    );
    expect([moved.x, moved.y]).not.toEqual([free.x, free.y]);
  });

  test('are worded by kind', () => {
    expect(markName({ kind: 'cutoff', freqHz: 4007, levelDb: -3, referenceDb: 0, depthDb: -3.01, falling: true })).toBe(
      '−3 dB 4.007 kHz',
    );
    expect(markName({ kind: 'slope', freqHz: 1, levelDb: 0, referenceDb: 0, slopeDbPerOctave: -24.08 })).toBe(
      '−24.1 dB/oct',
    );
    expect(markName({ kind: 'peak', freqHz: 950, levelDb: 1.2, referenceDb: 0 })).toBe('peak +1.20 dB 950 Hz');
  });
});
