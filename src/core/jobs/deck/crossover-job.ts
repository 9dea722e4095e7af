import * as z from 'zod';
import { defineJob, requestOf } from '../define-job';
import { ALIGNMENTS, alignmentById } from '../../filter/alignments/index';
import { writeDeck } from '../../format/deck/write-deck';
import { passiveCrossover } from '../../loudspeaker/crossover';
import { nearestPreferred, SERIES_IDS, type SeriesId } from '../../parts/preferred';
import { failure, success, type Result } from '../../result';

const crossoverRequest = requestOf('crossover', {
  ways: z.number(),
  cutoffsHz: z.array(z.number()).readonly(),
  alignment: z.string(),
  order: z.number(),
  cutoffAt: z.enum(['own', '-3db']).optional(),
  rippleDb: z.number(),
  impedancesOhm: z.array(z.number()).readonly(),
  /** `exact` or a series. */
  series: z.string(),
});
export type CrossoverRequest = z.infer<typeof crossoverRequest>;

/** Highest order of an edge. */
const HIGHEST_ORDER = 8;

/**
 * Designs a passive parallel crossover and gives it as a deck with its loads at `low`, `mid`, `high`. Fails with
 * `bad-option` (option, value, allowed).
 */
function runCrossover(request: CrossoverRequest): Result<{ deck: string }> {
  const bad = (option: string, value: string | number, allowed: string) =>
    failure('bad-option', { option, value, allowed });
  const { ways, cutoffsHz, impedancesOhm, order } = request;
  if (ways !== 2 && ways !== 3) return bad('--ways', ways, '2, 3');
  if (cutoffsHz.length !== ways - 1)
    return bad('--cutoff', cutoffsHz.join(','), ways === 2 ? 'one frequency' : 'two frequencies, as 400,3k');
  if (!cutoffsHz.every((f, i) => f > 0 && f < 1e9 && (i === 0 || f > cutoffsHz[i - 1])))
    return bad('--cutoff', cutoffsHz.join(','), 'positive frequencies that rise');
  if (
    impedancesOhm.length < 1 ||
    impedancesOhm.length > ways ||
    !impedancesOhm.every((r) => r > 0 && Number.isFinite(r))
  )
    return bad('--impedance', impedancesOhm.join(','), `one positive resistance, or one for each of ${ways} ways`);
  // A ladder of coils and capacitors by turns has no nulls.
  const onOffer = ALIGNMENTS.filter((a) => !a.hasAttenuation && a.id !== 'custom').map((a): string => a.id);
  if (!onOffer.includes(request.alignment)) return bad('--alignment', request.alignment, onOffer.join(', '));
  const alignment = alignmentById(request.alignment);
  const orders = alignment.orders.filter((n) => n <= HIGHEST_ORDER);
  if (!orders.includes(order)) return bad('--order', order, orders.join(', '));
  if (request.series !== 'exact' && !(SERIES_IDS as readonly string[]).includes(request.series))
    return bad('--series', request.series, `exact, ${SERIES_IDS.join(', ')}`);
  if (!(request.rippleDb >= 0.01 && request.rippleDb <= 3)) return bad('--ripple', request.rippleDb, '0.01 to 3 dB');
  const snap =
    request.series === 'exact'
      ? (_: string, value: number) => value
      : (_: string, value: number) => nearestPreferred(value, request.series as SeriesId);
  const netlist = passiveCrossover({
    alignment,
    order,
    cutoffsHz,
    loadsOhm: impedancesOhm,
    rippleDb: request.rippleDb,
    cutoffAt: request.cutoffAt,
    snap,
  });
  if (!netlist.ok) return netlist;
  const written = writeDeck(netlist.value, {
    title: `${ways}-way ${request.alignment} crossover of order ${order} at ${cutoffsHz.join(' and ')} Hz`,
    rename: {},
  });
  return written.ok ? success({ deck: written.value }) : written;
}

export const crossoverJob = defineJob(crossoverRequest, (request) => runCrossover(request));
