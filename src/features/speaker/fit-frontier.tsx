import { Button } from 'antd';
import type { Choice, Outcome } from '@/core/jobs/loudspeaker/optimise';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { usePlot } from '@/ui/chart/chart-frame';
import { minus, SmallChart } from '@/ui/chart/small-chart';
import { linearTicks } from '@/ui/chart/ticks';
import { Fold } from '@/ui/fold';
import styles from './fit.module.css';

/** What less money gives: sets of values that nothing else beats in error and price, to choose from. */
export function FitFrontier({
  choices,
  taken,
  take,
}: {
  choices: readonly Choice[];
  taken: Outcome;
  take: (choice: Choice) => void;
}) {
  if (choices.length < 2) return null;
  const [cheapest, dearest] = [choices[0], choices[choices.length - 1]];
  const outcome =
    `${formatFixed(cheapest.price, 2)} for ±${formatFixed(cheapest.offDb, 2)}\u202fdB ` +
    `to ${formatFixed(dearest.price, 2)} for ±${formatFixed(dearest.offDb, 2)}\u202fdB`;
  return (
    <Fold name="Error against price" title="Error against price" outcome={outcome} testId="fit-frontier">
      <FrontierChart choices={choices} taken={taken} />
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th className="number">price</th>
            <th className="number">off the target</th>
            <th className="number">least load</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {choices.map((choice) => (
            <tr key={`${choice.price} ${choice.offDb}`}>
              <td className="number">{formatFixed(choice.price, 2)}</td>
              <td className="number">±{formatFixed(choice.offDb, 2)}&#8239;dB</td>
              <td className="number">
                {choice.lowestOhm === null ? '–' : formatQuantity(choice.lowestOhm, 'resistance', { digits: 3 })}
              </td>
              <td>
                <Button
                  size="small"
                  onClick={() => take(choice)}
                  aria-label={`Take the values for ${formatFixed(choice.price, 2)}`}
                >
                  take
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Fold>
  );
}

const roundTo = (value: number, step: number, up: boolean) => (up ? Math.ceil : Math.floor)(value / step) * step;

function FrontierChart({ choices, taken }: { choices: readonly Choice[]; taken: Outcome }) {
  const prices = [...choices.map((c) => c.price), taken.price];
  const errors = [...choices.map((c) => c.offDb), taken.offDb].filter(Number.isFinite);
  const axis = (values: readonly number[], step: number, zero: boolean) => {
    const from = zero ? 0 : Math.max(0, roundTo(Math.min(...values), step, false));
    const to = Math.max(from + step, roundTo(1.15 * Math.max(...values), step, true));
    return { from, to, labelled: linearTicks(from, to, 5), format: minus };
  };
  return (
    <SmallChart
      testId="frontier-chart"
      title="off the target, dB, against price"
      lines={[{ name: 'not beaten', x: choices.map((c) => c.price), y: choices.map((c) => c.offDb) }]}
      x={axis(prices, 10, false)}
      y={axis(errors, 0.5, true)}
      height={140}
    >
      <Points choices={choices} taken={taken} />
    </SmallChart>
  );
}

function Points({ choices, taken }: { choices: readonly Choice[]; taken: Outcome }) {
  const plot = usePlot();
  if (!plot) return null;
  return (
    <g aria-hidden="true">
      {choices.map((c) => (
        <circle
          key={`${c.price} ${c.offDb}`}
          className={styles.point}
          cx={plot.x(c.price)}
          cy={plot.y(c.offDb)}
          r={3}
        />
      ))}
      <circle className={styles.taken} cx={plot.x(taken.price)} cy={plot.y(taken.offDb)} r={3.5} />
    </g>
  );
}
