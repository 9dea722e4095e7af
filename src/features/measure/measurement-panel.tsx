'use client';

import { Button, Checkbox, Input } from 'antd';
import { DeleteOutlined } from '@ant-design/icons';
import { useMemo } from 'react';
import { compareWithPrediction } from '@/core/measure/compare';
import type { Measurement } from '@/core/design/document/schema';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changeMeasurement, removeMeasurement } from '@/store/edits/record-edits';
import { useDesignJob } from '@/store/use-design-job';
import { NoiseAndHarmonics } from './harmonics';
import { Distances } from './distances';
import { MeasuredDecay } from './measured-decay';
import { DifferenceChart } from './difference-chart';

/** Distances and decay are worked out of curves with fewer points than this. */
const MOST_POINTS = 5000;

/** A measured curve against what the board should give there, as it stood: what differs, where, and by how much. */
export function MeasurementPanel({ measurement }: { measurement: Measurement }) {
  const { freqHz, place = 'out', setting = null } = measurement;
  const acoustic = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  const [fromHz, toHz] = [freqHz[0], freqHz[freqHz.length - 1]];
  const predicted = useDesignJob('predicted', { place, setting, fromHz, toHz });
  const comparison = useMemo(
    () => predicted && compareWithPrediction(measurement, predicted, { aligned: measurement.aligned }),
    [predicted, measurement],
  );
  return (
    <section className="panel" aria-label={measurement.name} data-testid="measurement">
      <header>
        <Input
          size="small"
          variant="borderless"
          aria-label="Name of the measurement"
          value={measurement.name}
          maxLength={60}
          onChange={(e) => edit(changeMeasurement(measurement.id, { name: e.target.value }))}
        />
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label={`Remove ${measurement.name}`}
          onClick={() => edit(removeMeasurement(measurement.id))}
        />
      </header>
      <Checkbox
        checked={measurement.aligned}
        onChange={(e) => edit(changeMeasurement(measurement.id, { aligned: e.target.checked }))}
      >
        align levels in the pass band{' '}
        {comparison && measurement.aligned ? (
          <span className="figures quiet">({formatSigned(comparison.offsetDb, 'decibel')})</span>
        ) : null}
      </Checkbox>
      {comparison && (
        <DifferenceChart freqHz={freqHz} differenceDb={comparison.differenceDb} fromHz={fromHz} toHz={toHz} />
      )}
      {comparison?.worst ? (
        <p className="reason">
          Differs most at <b className="figures">{formatQuantity(comparison.worst.freqHz, 'frequency')}</b>:{' '}
          <b className="figures" data-testid="worst-difference">
            {formatSigned(comparison.worst.db, 'decibel')}
          </b>
          ; root mean square <b className="figures">{formatFixed(comparison.rmsDb, 2)}&#8239;dB</b>, over the top 60 dB.
        </p>
      ) : comparison ? (
        <p className="reason warn">The measurement and the curves have no frequency in common.</p>
      ) : null}
      {place === 'sum' && acoustic && freqHz.length < MOST_POINTS && <Distances measurement={measurement} />}
      {acoustic && freqHz.length < MOST_POINTS && <MeasuredDecay measurement={measurement} />}
      <NoiseAndHarmonics measurement={measurement} />
    </section>
  );
}
