import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Move } from '../../design/document/played';
import type { Design, Variant } from '../../design/document/schema';
import { turned } from '../network/turn';
import { IN_TIME } from '../reading/built-variant';
import type { Note } from './notes';
import { onTheWay, placeOf, type Place } from './sounding-place';

/** The note that an envelope is in, as far as it is known. */
export type Struck = Pick<Note, 'atS' | 'accent'>;

/** Up and down again from a note on, 0 to 1: straight up, an exponential down. */
const rise = (t: number, attackS: number, decayS: number): number =>
  t < 0 ? 0 : t < attackS ? t / Math.max(attackS, 1e-4) : Math.exp(-(t - attackS) / Math.max(decayS, 1e-3));

const WAVES = {
  sine: (phase: number) => Math.sin(2 * Math.PI * phase),
  triangle: (phase: number) => 1 - 4 * Math.abs(((phase + 0.25) % 1) - 0.5),
  square: (phase: number) => (phase % 1 < 0.5 ? 1 : -1),
} as const;

/** How far a move takes its control at a time, as a share of its travel. @param struck the last note begun. */
export function moveAt({ depth, by }: Move, timeS: number, struck: Struck | null): number {
  if (by.kind === 'oscillation') return depth * WAVES[by.shape](timeS * by.hz);
  if (!struck) return 0;
  return depth * (1 + (struck.accent ? by.accent : 0)) * rise(timeS - struck.atS, by.attackS, by.decayS);
}

interface Moved<At> {
  readonly at: At;
  readonly byFactor: boolean;
}

/** What of a circuit a control moves: its values and sources over its travel. */
interface Travel {
  readonly controlId: string;
  readonly base: number;
  readonly places: readonly Place[];
  readonly slots: readonly Moved<number>[];
  readonly sources: readonly Moved<string>[];
}

/**
 * The circuit over the travel of every control that is moved. What several move is moved by each: in tune where they
 * are octaves, added where they are not.
 */
export class MovedPlaces {
  private constructor(
    private readonly moves: readonly Move[],
    private readonly travels: readonly Travel[],
  ) {}

  /** @param fine how many places each travel is looked at. */
  static of(design: Design, variant: Variant, middle: Compilation, moves: readonly Move[], fine: number): MovedPlaces {
    const here = placeOf(middle);
    const ids = [...new Set(moves.map((m) => m.controlId))];
    const travels = ids.flatMap((controlId): Travel[] => {
      const control = variant.controls.find((c) => c.id === controlId);
      if (!control) return [];
      const places = Array.from({ length: fine }, (_, i) => {
        const built = compile(design, turned(variant, controlId, { position: i / (fine - 1) }), {
          ...AS_BUILT,
          ...IN_TIME,
        });
        const place = built.ok ? placeOf(built.value) : here;
        return place.values.length === here.values.length ? place : here;
      });
      const [first, half, last] = [places[0], places[(fine - 1) >> 1], places[fine - 1]];
      const slots = [...here.values.keys()]
        .filter((at) => places.some((p) => p.values[at] !== here.values[at]))
        .map((at) => ({ at, byFactor: isByFactor(first.values[at], half.values[at], last.values[at]) }));
      const volts = (p: Place, name: string) => p.dc.get(name) ?? 0;
      const sources = [...here.dc.keys()]
        .filter((at) => places.some((p) => volts(p, at) !== volts(here, at)))
        .map((at) => ({ at, byFactor: isByFactor(volts(first, at), volts(half, at), volts(last, at)) }));
      return [{ controlId, base: control.position, places, slots, sources }];
    });
    return new MovedPlaces(moves, travels);
  }

  get isStill(): boolean {
    return this.travels.length === 0;
  }

  /** Where everything stands at a time. @param place where it stands of itself. @param bases positions now. */
  at(place: Place, timeS: number, struck: Struck | null, bases?: ReadonlyMap<string, number>): Place {
    if (this.isStill) return place;
    const values = place.values.slice();
    const dc = new Map(place.dc);
    for (const { controlId, base, places, slots, sources } of this.travels) {
      const off = this.moves
        .filter((m) => m.controlId === controlId)
        .reduce((sum, move) => sum + moveAt(move, timeS, struck), 0);
      const from = bases?.get(controlId) ?? base;
      const [here, there] = [placeAt(places, from), placeAt(places, from + off)];
      for (const { at, byFactor } of slots) values[at] = moved(values[at], here.values[at], there.values[at], byFactor);
      for (const { at, byFactor } of sources)
        dc.set(at, moved(dc.get(at) ?? 0, here.dc.get(at) ?? 0, there.dc.get(at) ?? 0, byFactor));
    }
    return { values, dc };
  }
}

function placeAt(places: readonly Place[], position: number): Place {
  const x = Math.min(1, Math.max(0, position)) * (places.length - 1);
  const k = Math.min(places.length - 2, Math.floor(x));
  return onTheWay(places[k], places[k + 1], x - k);
}

/**
 * A value that a control takes from one to another, where others have moved it too: by the same factor where the travel
 * is one of factors, as octaves are; by the same amount otherwise.
 */
const moved = (value: number, from: number, to: number, byFactor: boolean): number =>
  byFactor && from > 0 ? value * (to / from) : value + to - from;

/** Whether the middle of a travel lies nearer the geometric mean of its ends than the arithmetic. */
function isByFactor(low: number, middle: number, high: number): boolean {
  if (!(low > 0 && high > 0 && middle > 0)) return false;
  return Math.abs(Math.log(middle / Math.sqrt(low * high))) < Math.abs(Math.log((2 * middle) / (low + high)));
}
