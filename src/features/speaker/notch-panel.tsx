'use client';

import { Button, Checkbox, Segmented } from 'antd';
import { useState } from 'react';
import type { HumpOf, NotchOffer, NotchOutlook } from '@/core/jobs/loudspeaker/notch-outlook';
import { isPassive } from '@/core/design/making/create';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf } from '@/store/edits/edits';
import { HUMP } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { askForNotch } from '@/store/questions/notch';
import { addBeforeDriver } from '@/store/edits/speaker-edits';
import { setView, viewStore } from '@/store/view';
import styles from './speaker.module.css';

const WORDS: Record<string, string> = {
  'across the driver': 'across, series L-C-R',
  'in line': 'in line, parallel L-C-R',
};
const LOOKED_AT: { value: HumpOf; label: string }[] = [
  { value: 'driver', label: 'its driver' },
  { value: 'way', label: 'the way' },
  { value: 'sum', label: 'the sum' },
];

/**
 * A hump of the way in hand, and both notches for it side by side: what each is made of, what it does to response and
 * load, and what it costs.
 */
export function NotchPanel() {
  const heard = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  const way = useDesign(currentWayOf);
  const { result, failure } = useLongJob(HUMP);
  const [on, setOn] = useState<HumpOf>('driver');
  const [widths, setWidths] = useState(false);
  if (!heard || !isPassive(way)) return null;
  const own = result?.asked.wayId === way.id ? result.value : null;
  const ask = (hump: NotchOutlook['hump'] | undefined, given: { on?: HumpOf; widths?: boolean } = {}) =>
    void askForNotch({ wayId: way.id, hump, on: given.on ?? on, widths: given.widths ?? widths });
  return (
    <section className="panel" aria-label="Tame a hump" data-testid="notch-panel">
      <NotchHead name={way.name} found={own !== null} ask={ask} />
      <div className="field-row">
        <div className="field">
          <span className="label">looked for on</span>
          <Segmented
            size="small"
            aria-label="What the hump is looked for on"
            value={on}
            options={LOOKED_AT}
            onChange={(next) => {
              setOn(next);
              if (own) ask(undefined, { on: next });
            }}
          />
        </div>
        <Checkbox
          checked={widths}
          onChange={(e) => {
            setWidths(e.target.checked);
            if (own) ask(own.hump, { widths: e.target.checked });
          }}
        >
          narrower and broader beside it
        </Checkbox>
      </div>
      {failure && <p className="reason">{failureWords(failure)}</p>}
      {own && (
        <>
          <HumpFields hump={own.hump} change={(patch) => ask({ ...own.hump, ...patch })} />
          <Offers
            offers={own.offers}
            take={(offer) => {
              edit(addBeforeDriver(way.id, offer.stage));
              HUMP.forget();
              setView({ selectedStage: null });
            }}
          />
          <WorthWords offers={own.offers} />
        </>
      )}
    </section>
  );
}

interface NotchHeadProps {
  readonly name: string;
  readonly found: boolean;
  readonly ask: (hump: NotchOutlook['hump'] | undefined) => void;
}

function NotchHead({ name, found, ask }: NotchHeadProps) {
  const atCursor = () =>
    ask({ centreHz: Number((viewStore.getState().cursor ?? 1000).toPrecision(3)), widthOct: 0.8, depthDb: 3 });
  return (
    <header>
      <h2>Tame a hump of {name}</h2>
      <span>
        {found && (
          <Button size="small" type="text" onClick={HUMP.forget}>
            put away
          </Button>
        )}
        <Button size="small" onClick={atCursor} title="made for what lies under the cursor">
          at the cursor
        </Button>{' '}
        <Button size="small" onClick={() => ask(undefined)}>
          find it
        </Button>
      </span>
    </header>
  );
}

const WorthWords = ({ offers }: { offers: readonly NotchOffer[] }) => (
  <p className="reason quiet">
    Pull the knob on the curve: sideways where, down how deep. Across the driver it needs something before it to work
    against and evens the load where a series coil already lifts it; in line it raises the load. On the curves: across
    brown, in line plum. Curing the cone, the edge or the cabinet costs no parts:{' '}
    {formatFixed(Math.min(...offers.map((o) => o.price)), 2)} is what the fix is worth.
  </p>
);

function HumpFields({
  hump,
  change,
}: {
  hump: NotchOutlook['hump'];
  change: (patch: Partial<NotchOutlook['hump']>) => void;
}) {
  return (
    <div className="field-row">
      <QuantityInput
        label="centre"
        kind="frequency"
        value={hump.centreHz}
        min={20}
        max={20e3}
        onChange={(v) => v !== null && change({ centreHz: v })}
        testId="hump-centre"
      />
      <QuantityInput
        label="width, oct"
        kind="ratio"
        step={0.1}
        value={hump.widthOct}
        min={0.1}
        max={4}
        onChange={(v) => v !== null && change({ widthOct: v })}
      />
      <QuantityInput
        label="depth"
        kind="decibel"
        step={0.5}
        value={hump.depthDb}
        min={0.3}
        max={20}
        onChange={(v) => v !== null && change({ depthDb: v })}
        testId="hump-depth"
      />
    </div>
  );
}

function Offers({ offers, take }: { offers: readonly NotchOffer[]; take: (offer: NotchOffer) => void }) {
  const several = new Set(offers.map((o) => o.widthOct)).size > 1;
  return (
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
        {offers.map((offer) => (
          <tr key={`${offer.form} ${offer.widthOct}`}>
            <td>
              {WORDS[offer.form]}
              {several && <span className="quiet">, {formatQuantity(offer.widthOct, 'ratio', { digits: 2 })} oct</span>}
            </td>
            <td className="number">
              {offer.parts.map((p) => (
                <span key={p.name} className={styles.stacked}>
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
                onClick={() => take(offer)}
                aria-label={`Take the notch ${offer.form}${several ? `, ${offer.widthOct} octaves` : ''}`}
              >
                take
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
