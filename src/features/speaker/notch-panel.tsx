'use client';

import { Button } from 'antd';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity, formatFixed } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf } from '@/store/edits';
import { gridFor } from '@/store/questions/axis';
import { HUMP } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { addBeforeDriver } from '@/store/speaker-edits';
import { setView, viewStore } from '@/store/view';

const WORDS: Record<string, string> = {
  'across the driver': 'across, series L-C-R',
  'in line': 'in line, parallel L-C-R',
};

/**
 * A hump of the way in hand, and both notches for it side by side: what each is made of, what it does to response and
 * load, and what it costs.
 */
export function NotchPanel() {
  const heard = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  const design = useDesign((d) => d);
  const way = currentWayOf(design);
  const { result, failure } = useLongJob(HUMP);
  if (!heard || way.load.kind !== 'driver' || way.load.amplifier) return null;
  const look = (hump?: { centreHz: number; widthOct: number; depthDb: number }) =>
    HUMP.run({ wayId: way.id, hump, grid: gridFor(design) });
  const atCursor = () => {
    const { cursor } = viewStore.getState();
    void look({ centreHz: Number((cursor ?? 1000).toPrecision(3)), widthOct: 0.8, depthDb: 3 });
  };
  const own = result?.asked.wayId === way.id ? result.value : null;
  const change = (patch: Partial<{ centreHz: number; widthOct: number; depthDb: number }>) =>
    own && void look({ ...own.hump, ...patch });
  return (
    <section className="panel" aria-label="Tame a hump" data-testid="notch-panel">
      <header>
        <h2>Tame a hump of {way.name}</h2>
        <span>
          {own && (
            <Button size="small" type="text" onClick={HUMP.forget}>
              put away
            </Button>
          )}
          <Button size="small" onClick={atCursor} title="made for what lies under the cursor">
            at the cursor
          </Button>{' '}
          <Button size="small" onClick={() => void look()}>
            find it
          </Button>
        </span>
      </header>
      {failure && <p className="reason">{failureWords(failure)}</p>}
      {own && (
        <>
          <div className="field-row">
            <QuantityInput
              label="centre"
              kind="frequency"
              value={own.hump.centreHz}
              min={20}
              max={20e3}
              onChange={(v) => v !== null && change({ centreHz: v })}
              testId="hump-centre"
            />
            <QuantityInput
              label="width, oct"
              kind="ratio"
              step={0.1}
              value={own.hump.widthOct}
              min={0.1}
              max={4}
              onChange={(v) => v !== null && change({ widthOct: v })}
            />
            <QuantityInput
              label="depth"
              kind="decibel"
              step={0.5}
              value={own.hump.depthDb}
              min={0.3}
              max={20}
              onChange={(v) => v !== null && change({ depthDb: v })}
              testId="hump-depth"
            />
          </div>
          <table className="sheet speaker-figures" data-testid="notch-offers">
            <thead>
              <tr>
                <th>kind</th>
                <th className="number">L, C, R</th>
                <th className="number">takes</th>
                <th className="number" title="the deepest that the neighbourhood then falls below the target">
                  dip
                </th>
                <th className="number">load</th>
                <th className="number">price</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {own.offers.map((offer) => (
                <tr key={offer.form}>
                  <td>{WORDS[offer.form]}</td>
                  <td className="number">
                    {offer.parts.map((p) => (
                      <span key={p.name} className="stacked">
                        {formatQuantity(p.value, PART_UNITS[p.kind], { digits: 2 })}
                      </span>
                    ))}
                  </td>
                  <td className="number">{formatFixed(offer.tookDb, 1)}</td>
                  <td className="number">{formatFixed(offer.dipDb, 1)}</td>
                  <td className="number">
                    {offer.lowestOhm === null ? '–' : formatQuantity(offer.lowestOhm, 'resistance', { digits: 2 })}
                  </td>
                  <td className="number">{formatFixed(offer.price, 2)}</td>
                  <td>
                    <Button
                      size="small"
                      onClick={() => {
                        edit(addBeforeDriver(way.id, offer.stage));
                        HUMP.forget();
                        setView({ selectedStage: null });
                      }}
                      aria-label={`Take the notch ${offer.form}`}
                    >
                      take
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="reason quiet">
            Across the driver it needs something before it to work against and evens the load where a series coil
            already lifts it; in line it raises the load. On the curves: across brown, in line plum. Curing the cone,
            the edge or the cabinet costs no parts: {cheapest(own.offers.map((o) => o.price))} is what the fix is worth.
          </p>
        </>
      )}
    </section>
  );
}

const cheapest = (prices: readonly number[]): string => formatFixed(Math.min(...prices), 2);
