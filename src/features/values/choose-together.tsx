import { Button, Segmented, Select } from 'antd';
import { useState } from 'react';
import { isHeld } from '@/core/design/values/stage-choices';
import type { WaySnap, WaySnaps } from '@/core/design/values/snap-way';
import { formatQuantity } from '@/core/units/quantity';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { takeValues } from '@/store/edits/part-edits';
import { SNAP } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { useStockedCapacitors } from '@/store/shelf/stock';
import { useSelectedStage } from '@/store/use-selected-stage';
import styles from './values.module.css';

type Scope = 'path' | 'stage';
const SCOPES: { value: Scope; label: string }[] = [
  { value: 'path', label: 'whole path' },
  { value: 'stage', label: 'this stage' },
];
const PAIRS = [
  { value: 0, label: 'single parts' },
  { value: 1, label: 'one pair a stage' },
  { value: 3, label: 'pairs where they help' },
];
const dB = (v: number) => formatQuantity(v, 'decibel', { digits: 2 });

/** All parts chosen together, so that what one misses another makes good: the few best, with what each costs. */
export function ChooseTogether() {
  const { stage } = useSelectedStage();
  const [scope, setScope] = useState<Scope>('path');
  const [pairs, setPairs] = useState(3);
  const [atHand, setAtHand] = useState(false);
  const { running, result, failure } = useLongJob(SNAP);
  const stocked = useStockedCapacitors();
  const run = () =>
    SNAP.run({
      stageId: scope === 'stage' ? (stage?.id ?? null) : null,
      mostPairs: pairs,
      capacitors: atHand && stocked.length > 0 ? stocked : undefined,
    });
  const fits = useFits(result?.value ?? null);
  const held = useHeld(scope === 'stage' ? (stage?.id ?? null) : null);
  return (
    <section className="panel" aria-label="Choose together" data-testid="choose-together">
      <header>
        <h2>Choose together</h2>
        <Segmented size="small" aria-label="What is chosen" value={scope} options={SCOPES} onChange={setScope} />
      </header>
      <div className={`field-row ${styles.togetherRow}`}>
        <Select
          size="small"
          aria-label="Pairs"
          value={pairs}
          options={PAIRS}
          onChange={setPairs}
          popupMatchSelectWidth={false}
        />
        {stocked.length > 0 && (
          <Select
            size="small"
            aria-label="Capacitors from"
            value={atHand}
            options={[
              { value: false, label: 'any of the series' },
              { value: true, label: 'capacitors in stock' },
            ]}
            onChange={setAtHand}
            popupMatchSelectWidth={false}
          />
        )}
        <Start running={running} run={run} />
      </div>
      {failure && (
        <p role="alert" className="reason bad">
          {failureWords(failure)}
        </p>
      )}
      {held > 0 && (
        <p className="reason" data-testid="held-values">
          {held === 1 ? 'One value stays as you typed it.' : `${held} values stay as you typed them.`} Empty its field
          to let it be chosen.
        </p>
      )}
      {result && fits && !running ? (
        <Choices snaps={result.value} />
      ) : (
        <p className="reason quiet">
          Nearest values, one by one, add their errors up. Chosen together, what one part misses another makes good.
        </p>
      )}
    </section>
  );
}

/** What was chosen for another circuit is not offered for this one; taking a choice changes only parts. */
const useFits = (snaps: WaySnaps | null): boolean =>
  useDesign(
    (d) =>
      snaps?.choices.every((c) =>
        c.stages.every(({ stageId }) =>
          d.variants.some((v) => v.id === d.currentVariant && v.ways[0].stages.some((s) => s.id === stageId)),
        ),
      ) ?? false,
  );

/** How many values of the path, or of one stage, are the maker's own. */
const useHeld = (stageId: string | null): number =>
  useDesign((d) =>
    currentWayOf(d)
      .stages.filter((s) => stageId === null || s.id === stageId)
      .reduce((sum, { parts }) => sum + Object.values(parts).filter(isHeld).length, 0),
  );

function Start({ running, run }: { running: boolean; run: () => Promise<unknown> }) {
  return running ? (
    <>
      <Button size="small" onClick={SNAP.cancel}>
        Cancel
      </Button>
      <span className="quiet" role="status">
        trying combinations …
      </span>
    </>
  ) : (
    <Button size="small" type="primary" onClick={() => void run()}>
      Choose
    </Button>
  );
}

function Choices({ snaps: { nearest, choices, toleranceDb } }: { snaps: WaySnaps }) {
  const wasted = toleranceDb / 5;
  const enough = choices.findIndex((c) => c.errorDb <= wasted);
  return (
    <>
      <table className="sheet" data-testid="choices">
        <thead>
          <tr>
            <th>choice</th>
            <th className="number">parts</th>
            <th className="number">off by</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="quiet">nearest values</td>
            <td className="number">{nearest.partCount}</td>
            <td className="number" data-testid="nearest-error">
              {dB(nearest.errorDb)}
            </td>
            <td />
          </tr>
          {choices.map((choice, i) => (
            <tr key={i} className={i === enough ? 'current' : undefined}>
              <td>
                {choice.pairs === 0 ? 'single parts' : choice.pairs === 1 ? 'one pair' : `${choice.pairs} pairs`}
                {i === enough && <span className="live"> enough</span>}
              </td>
              <td className="number">{choice.partCount}</td>
              <td className="number" data-testid="choice-error">
                {dB(choice.errorDb)}
              </td>
              <td className="drop">
                <Button
                  size="small"
                  aria-label={`Take ${wordsOf(choice)}`}
                  onClick={() => edit(takeValues(choice.stages))}
                >
                  Take
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="reason quiet">
        Largest miss once it is taken, in decibels: of level in the pass band, of what comes through elsewhere, of phase
        where the path is for that. The parts’ tolerances leave {dB(toleranceDb)} uncertain:{' '}
        {enough >= 0
          ? `nearer than ${dB(wasted)} is precision that they do not hold.`
          : 'a finer series, pairs or other capacitors would bring it nearer.'}
      </p>
    </>
  );
}

const wordsOf = ({ pairs, errorDb }: WaySnap): string =>
  `${pairs === 0 ? 'single parts' : `${pairs} pairs`}, off by ${dB(errorDb)}`;
