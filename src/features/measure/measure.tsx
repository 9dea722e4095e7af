'use client';

import { App, Button, Checkbox, Input } from 'antd';
import { DeleteOutlined, UploadOutlined } from '@ant-design/icons';
import { useDeferredValue, useMemo } from 'react';
import { readResponseText } from '@/core/format/response-text';
import { compareWithPrediction } from '@/core/measure/compare';
import type { Measurement } from '@/core/design/schema';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { logGrid } from '@/core/math/grid';
import { pickTextFile } from '@/ui/download';
import { failureWords } from '@/ui/words/failures';
import { startJob } from '@/workers/job-client';
import { edit, useDesign } from '@/store/document';
import { addMeasurement, changeMeasurement, removeMeasurement } from '@/store/record-edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { DifferenceChart } from './difference-chart';

const DECK_POINTS = 401;

/** Measured curves laid over the prediction: what differs, where, and by how much. */
export function Measure() {
  const { message, notification } = App.useApp();
  const measurements = useDesign((d) => d.measurements);
  async function read(): Promise<void> {
    const file = await pickTextFile('.csv,.txt,.frd,.tsv,.dat,.cir');
    if (!file) return;
    const name = file.name.replace(/\.[^.]+$/, '').slice(0, 60);
    const fail = (text: string) =>
      notification.error({ title: `${file.name} was not read`, description: text, duration: 0 });
    if (/\.cir$/i.test(file.name)) {
      const freqHz = logGrid(1, 1e6, DECK_POINTS);
      const answer = await startJob<'response'>({ kind: 'response', deck: file.text, probe: 'out', freqHz }).answer;
      if (!answer.ok) return void fail(failureWords(answer));
      edit(
        addMeasurement({
          name: `${name} (deck)`,
          at: new Date().toISOString(),
          freqHz: [...freqHz],
          levelDb: [...answer.value.levelDb],
          phaseDeg: [...answer.value.phaseDeg],
          aligned: false,
        }),
      );
      return;
    }
    const answer = readResponseText(file.text);
    if (!answer.ok) return void fail(failureWords(answer));
    const { freqHz, levelDb, phaseDeg, passedOver, sorted } = answer.value;
    edit(addMeasurement({ name, at: new Date().toISOString(), freqHz, levelDb, phaseDeg, aligned: true }));
    void message.info(
      `${freqHz.length} points read${phaseDeg ? ' with phase' : ''}` +
        `${passedOver > 0 ? `; ${passedOver} lines of comment passed over` : ''}` +
        `${sorted ? '; put in order of frequency' : ''}.`,
    );
  }
  return (
    <>
      <section className="panel" aria-label="Read a measurement">
        <header>
          <h2>Measured</h2>
          <Button size="small" icon={<UploadOutlined />} onClick={read}>
            Read a file
          </Button>
        </header>
        <p className="reason quiet">
          Two or three columns: frequency in Hz, level in dB, phase in degrees; commas, semicolons, tabs or blanks;
          comment lines as you like. A deck (.cir) is simulated at its node “out”.
        </p>
      </section>
      {measurements.map((m) => (
        <MeasurementPanel key={m.id} measurement={m} />
      ))}
    </>
  );
}

function MeasurementPanel({ measurement }: { measurement: Measurement }) {
  // A long measurement is laid over the prediction when there is time for it, not within a drag.
  const desk = useDeferredValue(useAnswer(DESK));
  const comparison = useMemo(
    () =>
      desk
        ? compareWithPrediction(
            measurement,
            { freqHz: desk.freqHz, levelDb: desk.asBuilt.levelDb },
            { aligned: measurement.aligned },
          )
        : null,
    [desk, measurement],
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
      {comparison && desk && (
        <DifferenceChart
          freqHz={measurement.freqHz}
          differenceDb={comparison.differenceDb}
          fromHz={desk.freqHz[0]}
          toHz={desk.freqHz[desk.freqHz.length - 1]}
        />
      )}
      {comparison?.worst ? (
        <p className="reason">
          Differs most at <b className="figures">{formatQuantity(comparison.worst.freqHz, 'frequency')}</b>:{' '}
          <b className="figures" data-testid="worst-difference">
            {formatSigned(comparison.worst.db, 'decibel')}
          </b>
          ; root mean square <b className="figures">{formatFixed(comparison.rmsDb, 2)}&#8239;dB</b>, over the top 60 dB.
        </p>
      ) : (
        <p className="reason warn">The measurement and the curves have no frequency in common.</p>
      )}
    </section>
  );
}
