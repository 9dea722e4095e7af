import { piecewiseWave, pulseWave, sineWave } from '../../circuit/waves';
import type { Wave } from '../../circuit/netlist';
import { CardError } from './card-error';
import { fieldsOf } from './lines';

export const isWave = (word: string): boolean => /^(sin|pulse|pwl)\(.*\)$/is.test(word);

/** More pulses than this in a second of time would be steps too small to take. */
const SHORTEST_PERIOD = 1e-15;

/**
 * Reads `SIN(offset amplitude frequency delay damping phase)`, `PULSE(low high delay rise fall width period)` or `PWL(t
 * v t v ...)`.
 */
export function readWave(
  text: string,
  line: number,
  name: string,
  number: (text: string | undefined, what: string) => number,
): Wave {
  const [, kind, inside] = /^([a-z]+)\((.*)\)$/is.exec(text) as RegExpExecArray;
  const fields = fieldsOf(inside);
  const wrong = (message: string) => new CardError(line, `${name}: ${message}`);
  const at = (i: number, what: string, fallback?: number) =>
    fields[i] === undefined && fallback !== undefined ? fallback : number(fields[i], what);
  const positive = (value: number, what: string) => {
    if (value < 0) throw wrong(`a ${what} cannot be negative`);
    return value;
  };
  switch (kind.toLowerCase()) {
    case 'sin': {
      if (fields.length > 6) throw wrong(`SIN takes six numbers at most, not ${fields.length}`);
      return sineWave(
        at(0, 'offset'),
        at(1, 'amplitude'),
        positive(at(2, 'frequency'), 'frequency'),
        positive(at(3, 'delay', 0), 'delay'),
        at(4, 'damping', 0),
        at(5, 'phase', 0),
      );
    }
    case 'pulse': {
      if (fields.length > 7) throw wrong(`PULSE takes seven numbers at most, not ${fields.length}`);
      const [rise, fall, width, period] = [3, 4, 5, 6].map((i) =>
        positive(at(i, 'time', i >= 5 ? Infinity : 0), 'time of a pulse'),
      );
      if (Number.isFinite(period) && period < SHORTEST_PERIOD) throw wrong('the period of PULSE is too short');
      if (Number.isFinite(period) && Number.isFinite(width) && rise + width + fall > period * (1 + 1e-9))
        throw wrong('rise, width and fall of PULSE are longer than its period');
      return pulseWave(
        at(0, 'first level'),
        at(1, 'second level'),
        positive(at(2, 'delay', 0), 'delay'),
        rise,
        fall,
        width,
        period,
      );
    }
    default: {
      if (fields.length < 2 || fields.length % 2 === 1) throw wrong('PWL takes pairs of time and value');
      const points = Array.from(
        { length: fields.length / 2 },
        (_, i) => [at(2 * i, 'time'), at(2 * i + 1, 'value')] as const,
      );
      for (let i = 1; i < points.length; i++)
        if (points[i][0] < points[i - 1][0]) throw wrong(`the times of PWL go back at ${fields[2 * i]}`);
      return piecewiseWave(points);
    }
  }
}
