'use client';

import { Fold } from '@/ui/fold';
import { Button } from 'antd';
import type { OrderOffer } from '@/core/jobs/desk/path-noise';
import { stageTopology } from '@/core/design/stages/stage-topology';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentWayOf, orderStages } from '@/store/edits/edits';
import { setDevice } from '@/store/edits/part-edits';
import { DESK, OP_AMPS, RANGE } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';

const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 2 });
/** A figure that cannot be had is said to be none. */
const figure = (v: number | null, words: (v: number) => string): string => (v === null ? '–' : words(v));
const share = (v: number | null) => figure(v, (s) => `${Math.round(100 * s)}\u202f%`);

/**
 * Every op-amp of the library in this path, side by side; what each stage adds in noise and asks in headroom, and the
 * order that is best for either.
 */
export function OpAmps() {
  const swap = useAnswer(OP_AMPS);
  const range = useAnswer(RANGE);
  const any = useDesign((d) =>
    currentWayOf(d).stages.some(
      (s) => s.target.kind !== 'plan' && stageTopology(s, currentWayOf(d)).family !== 'loudspeaker',
    ),
  );
  const amplified = useAnswer(DESK, (d) => d.supplyAmps !== 0);
  if (!any || !swap || !amplified) return null;
  return (
    <>
      <Fold
        name="Op-amps swapped"
        title="The same path with other op-amps"
        outcome={`${swap.length} compared`}
        testId="op-amps"
      >
        <Comparison swap={swap} />
      </Fold>
      {range && <Range />}
    </>
  );
}

type Swapped = NonNullable<ReturnType<typeof OP_AMPS.current>['value']>[number];

function Comparison({ swap }: { swap: readonly Swapped[] }) {
  return (
    <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Comparison of op-amps">
      <table className="sheet op-amps">
        <thead>
          <tr>
            <th>op-amp</th>
            <th
              className="number"
              title="what it makes of the pass band, against the same parts with an ideal op-amp; dB"
            >
              moves it
            </th>
            <th className="number" title="signal to noise, 20 Hz to 20 kHz">
              S/N, dB
            </th>
            <th className="number" title="largest share of the swing that the signal takes, at any op-amp’s output">
              swing
            </th>
            <th className="number" title="largest share of the slew rate">
              slew
            </th>
            <th className="number">supply</th>
          </tr>
        </thead>
        <tbody>
          {swap.map((one) => (
            <SwapRow key={one.id} swapped={one} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** How a share of what there is reads: over all of it bad, over so much of it worth a look. */
const shade = (of: number | null, warn: number): string =>
  of === null ? '' : of > 1 ? ' bad' : of > warn ? ' warn' : '';

function SwapRow({ swapped: v }: { swapped: Swapped }) {
  return (
    <tr className={v.current ? 'current' : undefined}>
      <td>
        {v.current ? (
          <b>{v.name}</b>
        ) : (
          <button type="button" className="link" onClick={() => edit(setDevice(null, v.id))}>
            {v.name}
          </button>
        )}
        {!v.stable && <span className="bad"> would oscillate</span>}
      </td>
      <td className="number">{figure(v.movesDb, (db) => formatSigned(db, 'ratio', Math.abs(db) < 0.1 ? 4 : 2))}</td>
      <td className="number">{figure(v.signalToNoiseDb, (db) => formatFixed(db, 0))}</td>
      {v.stable && v.swingShare === null ? (
        <td className="number bad">no swing</td>
      ) : (
        <td className={`number${shade(v.swingShare, 0.7)}`}>{share(v.swingShare)}</td>
      )}
      <td className={`number${shade(v.slewShare, 0.4)}`}>{share(v.slewShare)}</td>
      <td className="number">{formatQuantity(v.supplyAmps, 'voltage', { digits: 2 }).replace(/V$/, 'A')}</td>
    </tr>
  );
}

function Range() {
  const range = useAnswer(RANGE);
  if (!range) return null;
  const { stages, noiseV, now, forHeadroom, forNoise } = range;
  const better = (offer: OrderOffer) => offer.order.join() !== now.order.join();
  return (
    <Fold
      name="Noise and headroom"
      title="Noise and headroom, stage by stage"
      outcome={`${volts(noiseV)} of noise at the output`}
      testId="range"
    >
      <table className="sheet">
        <thead>
          <tr>
            <th>stage</th>
            <th className="number" title="its parts’ noise as it comes out at the end">
              adds noise
            </th>
            <th className="number" title="how far the signal has risen there at most, at any frequency">
              rises to
            </th>
          </tr>
        </thead>
        <tbody>
          {stages.map((s) => (
            <tr key={s.stageId}>
              <td>{s.name}</td>
              <td className="number">{volts(s.noiseV)}</td>
              <td className="number">{formatSigned(s.peakDb, 'decibel', 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="reason">{volts(noiseV)} of noise at the output, 20 Hz to 20 kHz.</p>
      {better(forHeadroom) && (
        <Offer
          offer={forHeadroom}
          words={
            `For headroom: rises to ${formatSigned(forHeadroom.peakDb, 'decibel', 1)} instead of ` +
            `${formatSigned(now.peakDb, 'decibel', 1)}`
          }
        />
      )}
      {better(forNoise) && (
        <Offer offer={forNoise} words={`For noise: ${volts(forNoise.noiseV)} instead of ${volts(now.noiseV)}`} />
      )}
      {!better(forHeadroom) && !better(forNoise) && now.peakDb !== null && (
        <p className="reason quiet">No other order of these stages is better for either.</p>
      )}
    </Fold>
  );
}

function Offer({ offer, words }: { offer: OrderOffer; words: string }) {
  return (
    <p className="reason">
      {words}: {offer.names.join(', ')}.{' '}
      <Button size="small" onClick={() => edit(orderStages(offer.order))}>
        Put in this order
      </Button>
    </p>
  );
}
