'use client';

import { App, Button } from 'antd';
import { UploadOutlined } from '@ant-design/icons';
import { readResponseText } from '@/core/format/response-text';
import { logGrid } from '@/core/math/grid';
import { pickTextFile } from '@/ui/download';
import { failureWords } from '@/ui/words/failures';
import { startJob } from '@/workers/job-client';
import { edit, useDesign } from '@/store/document';
import { addMeasurement } from '@/store/edits/record-edits';
import { Boards } from './boards';
import { Faults } from './faults';
import { FirstPower } from './first-power';
import { MeasurementPanel } from './measurement-panel';
import { SweepPanel } from './sweep-panel';

const DECK_POINTS = 401;

/** The board on the bench: swept, laid over the prediction, and what is wrong with it. */
export function Measure() {
  const measurements = useDesign((d) => d.measurements);
  return (
    <>
      <FirstPower />
      <SweepPanel />
      <Faults />
      <Boards />
      {measurements.map((m) => (
        <MeasurementPanel key={m.id} measurement={m} />
      ))}
      <ReadFile />
    </>
  );
}

/** A curve from a file of columns, or from a deck. */
function ReadFile() {
  const { message, notification } = App.useApp();
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
    <section className="panel" aria-label="Read a measurement">
      <header>
        <h2>From a file</h2>
        <Button size="small" icon={<UploadOutlined />} onClick={read}>
          Read a file
        </Button>
      </header>
      <p className="reason quiet">
        Two or three columns: frequency in Hz, level in dB, phase in degrees; commas, semicolons, tabs or blanks;
        comment lines as you like. A deck (.cir) is simulated at its node “out”.
      </p>
    </section>
  );
}
