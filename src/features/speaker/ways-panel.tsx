'use client';

import { App, Button, Checkbox, Segmented } from 'antd';
import { MOST_WAYS, WAY_COUNTS, waysLost, waysOf, type WaysWanted } from '@/core/catalogue/lay-out-ways';
import { isPassive } from '@/core/design/making/create';
import { seriesCrossover } from '@/core/topology/loudspeaker/series-crossover';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { levelWays, setAllActive, setWays, setWiring } from '@/store/edits/speaker-edits';

/** Lays the ways out anew. Fewer ways lose drivers and filters: that is asked first, with what would go. */
function useChangeWays(): (wanted: WaysWanted) => void {
  const { modal } = App.useApp();
  const variant = useDesign(currentVariantOf);
  const drivers = useDesign((d) => d.drivers);
  return (wanted) => {
    const gone = waysLost(variant, drivers ?? [], wanted);
    if (gone.length === 0) return edit(setWays(wanted));
    modal.confirm({
      title: `Remove ${gone.length === 1 ? 'one way' : `${gone.length} ways`}?`,
      content: `${gone.join('; ')}. Undo brings them back.`,
      okText: gone.length === 1 ? 'Remove the way' : 'Remove the ways',
      onOk: () => edit(setWays(wanted)),
    });
  };
}

/** How many drivers share the band, what feeds them, and whether one is louder than another. */
export function WaysPanel() {
  const variant = useDesign(currentVariantOf);
  const heard = useAnswer(ACOUSTICS, (a) => a.ways);
  const { ways } = variant;
  const { count, subwoofer } = waysOf(variant);
  const passive = ways.filter(isPassive).length;
  const able = (heard ?? []).filter(({ ableDb }) => ableDb !== null);
  const change = useChangeWays();
  const fed = passive === ways.length ? 'passive' : passive === 0 ? 'active' : 'mixed';
  return (
    <section className="panel" aria-label="Ways" data-testid="ways-panel">
      <header>
        <h2>Ways</h2>
        {ways.length > 1 && (
          <Button
            size="small"
            disabled={able.length < 2}
            title="By a trimmer where a way has its own amplifier, by a pad before the driver where it has none"
            onClick={() => edit(levelWays(able))}
          >
            Level them
          </Button>
        )}
      </header>
      <div className="field-row">
        <div className="field">
          <span className="label">how many</span>
          <Segmented
            size="small"
            aria-label="How many ways"
            value={count}
            options={WAY_COUNTS.map((n) => ({ value: n, label: n, disabled: subwoofer && n === MOST_WAYS }))}
            onChange={(n) => change({ count: n, subwoofer })}
          />
        </div>
        <Checkbox
          checked={subwoofer}
          disabled={!subwoofer && count === MOST_WAYS}
          onChange={(e) => change({ count, subwoofer: e.target.checked })}
        >
          and a subwoofer
        </Checkbox>
      </div>
      <div className="field-row">
        <div className="field">
          <span className="label">all fed by</span>
          <Segmented
            size="small"
            aria-label="How all ways are fed"
            value={fed}
            options={[
              { value: 'passive', label: 'one amplifier' },
              { value: 'active', label: 'one each' },
              ...(fed === 'mixed' ? [{ value: 'mixed', label: 'mixed', disabled: true }] : []),
            ]}
            onChange={(kind) => edit(setAllActive(kind === 'active'))}
          />
        </div>
      </div>
      {fed === 'passive' && ways.length > 1 && (
        <div className="field-row">
          <Wiring />
        </div>
      )}
    </section>
  );
}

type Wired = 'parallel' | 'first order' | 'second order';
const WIRINGS: { value: Wired; label: string }[] = [
  { value: 'parallel', label: 'parallel' },
  { value: 'first order', label: 'series, 1st order' },
  { value: 'second order', label: 'series, 2nd order' },
];

/** Drivers side by side, each with its own ladder, or in a row with parts across them. */
function Wiring() {
  const wired = useDesign(
    (d) =>
      currentVariantOf(d)
        .ways.flatMap((w) => w.stages)
        .find((s) => s.topology === seriesCrossover.id)?.mode ?? 'parallel',
  );
  return (
    <div className="field wide">
      <span className="label">drivers are wired</span>
      <Segmented
        size="small"
        aria-label="How the drivers are wired"
        value={wired as Wired}
        options={WIRINGS}
        onChange={(wiring) => edit(setWiring(wiring))}
      />
    </div>
  );
}
