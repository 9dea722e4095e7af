'use client';

import { App, Button } from 'antd';
import { UploadOutlined } from '@ant-design/icons';
import { useState } from 'react';
import { readDriverCurve } from '@/core/format/response-text';
import { mainResonance } from '@/core/loudspeaker/voice-coil';
import { pickTextFile } from '@/ui/download';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { joinNear, takeImpedance, type DriverEdits } from './take-curves';
import styles from './drivers.module.css';

/** Curves from files: a response, one from close before the cone to be joined to it, an impedance. */
export function DriverFiles({ driver, change, onFitted }: DriverEdits) {
  const { notification, message } = App.useApp();
  const [meetHz, setMeetHz] = useState(300);
  const { response, impedance } = driver;
  const refuse = (name: string, words: string) =>
    notification.error({ title: `${name} was not taken`, description: words, duration: 0 });
  async function read(kind: 'response' | 'impedance') {
    const file = await pickTextFile(kind === 'response' ? '.frd,.txt,.csv' : '.zma,.txt,.csv');
    if (!file) return null;
    const found = readDriverCurve(file.text, kind);
    if (found.ok) return { ...found.value, name: file.name };
    refuse(file.name, failureWords(found));
    return null;
  }
  async function readResponse(near: boolean): Promise<void> {
    const found = await read('response');
    if (!found) return;
    const { freqHz, values, phaseDeg } = found;
    const taken = { freqHz, values, phaseDeg };
    if (near && response.kind === 'curve') {
      const joined = joinNear(taken, response.curve, meetHz, change);
      return void (joined.ok ? message.success(joined.value) : refuse(found.name, failureWords(joined)));
    }
    change({ response: { kind: 'curve', curve: taken } });
    void message.success(
      `${freqHz.length} points taken` +
        `${phaseDeg ? '' : '; it has no phase, so minimum phase is made from its level'}` +
        `${found.sorted ? '; sorted by frequency' : ''}.`,
    );
  }
  async function readImpedance(): Promise<void> {
    const found = await read('impedance');
    if (!found) return;
    const { freqHz, values, phaseDeg, name } = found;
    const taken = await takeImpedance({ freqHz, values, phaseDeg }, change, onFitted);
    if (!taken.ok) refuse(name, failureWords(taken));
  }
  const fromFigures = () => {
    const lowHz = mainResonance(impedance)?.freqHz ?? 50;
    change({ response: { kind: 'model', sensitivityDb: 88, lowHz, lowQ: 0.7, topHz: 6000, topQ: 0.7, bumps: [] } });
  };
  return (
    <div className={`field-row ${styles.driverFiles}`}>
      <Button icon={<UploadOutlined />} onClick={() => void readResponse(false)}>
        Response file
      </Button>
      <Button icon={<UploadOutlined />} onClick={() => void readImpedance()}>
        Impedance file
      </Button>
      {response.kind === 'curve' && (
        <>
          <Button onClick={() => void readResponse(true)}>Join a near measurement</Button>
          <QuantityInput
            label="at"
            kind="frequency"
            value={meetHz}
            min={20}
            max={5000}
            onChange={(v) => v !== null && setMeetHz(v)}
          />
          <Button onClick={fromFigures}>From figures instead</Button>
        </>
      )}
    </div>
  );
}
