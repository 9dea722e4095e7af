import { curvesSvg } from '../../format/svg';
import type { Acoustics } from './acoustics-types';

const COLOURS = ['#17594b', '#33518f', '#94580c', '#7b3f8f', '#8f2f2f'];
/** dB that are shown under the top. */
const SHOWN_DB = 50;

/** What is heard of a crossover as an SVG file: every way dashed, and their sum. */
export function soundSvg(title: string, { freqHz, ways, sumDb }: Pick<Acoustics, 'freqHz' | 'ways' | 'sumDb'>): string {
  const topDb = 10 * Math.ceil((sumDb.reduce((m, v) => Math.max(m, v), -Infinity) + 3) / 10);
  return curvesSvg({
    title,
    freqHz,
    traces: [
      ...ways.map(({ name, levelDb }, i) => ({
        name,
        freqHz,
        levelDb,
        colour: COLOURS[i % COLOURS.length],
        dash: '6 3',
      })),
      { name: 'sum', freqHz, levelDb: sumDb, colour: '#111' },
    ],
    says: 'level at 1 m for 2.83 V from the source, dB; frequency, Hz',
    topDb,
    bottomDb: topDb - SHOWN_DB,
  });
}
