'use client';

import { App, Button } from 'antd';
import { DeleteOutlined, DownloadOutlined, PlusOutlined, UploadOutlined } from '@ant-design/icons';
import { Input } from 'antd';
import { OP_AMPS, type OpAmp } from '@/core/device/op-amps';
import { readOpAmpCsv, writeOpAmpCsv } from '@/core/format/op-amp-csv';
import type { QuantityKind } from '@/core/units/quantity';
import { download, pickTextFile } from '@/ui/download';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { newId } from '@/store/new-id';
import { putOpAmps, removeOpAmp, useOwnOpAmps } from '@/store/shelf/op-amps';
import styles from './stock.module.css';

type Figure = Exclude<keyof OpAmp, 'id' | 'name' | 'unityGainStable' | 'unitsPerPackage'>;

/**
 * What is asked of an op-amp, with its bounds as the document has them. `scale` is what the field shows one SI unit as.
 */
const FIGURES: readonly {
  key: Figure;
  label: string;
  title: string;
  kind: QuantityKind;
  min: number;
  max: number;
  scale?: number;
}[] = [
  { key: 'gainBandwidthHz', label: 'GBW', title: 'gain-bandwidth', kind: 'frequency', min: 1e3, max: 1e10 },
  { key: 'dcGainDb', label: 'gain', title: 'open-loop gain at DC', kind: 'decibel', min: 40, max: 180 },
  {
    key: 'slewVoltsPerSec',
    label: 'V/µs',
    title: 'slew rate, volts in a microsecond',
    kind: 'ratio',
    min: 1e3,
    max: 1e11,
    scale: 1e-6,
  },
  {
    key: 'noiseVoltsPerRtHz',
    label: 'nV/√Hz',
    title: 'input noise, nanovolts in a root hertz',
    kind: 'ratio',
    min: 0,
    max: 1e-5,
    scale: 1e9,
  },
  { key: 'biasAmps', label: 'bias, nA', title: 'input bias current', kind: 'ratio', min: 0, max: 1e-3, scale: 1e9 },
  { key: 'offsetVolts', label: 'offset', title: 'input offset voltage', kind: 'voltage', min: 0, max: 1 },
  {
    key: 'headroomVolts',
    label: 'to rail',
    title: 'how near the output gets to each rail',
    kind: 'voltage',
    min: 0,
    max: 20,
  },
  {
    key: 'outputOhm',
    label: 'out',
    title: 'output resistance before feedback',
    kind: 'resistance',
    min: 0.01,
    max: 1e5,
  },
  { key: 'supplyAmps', label: 'mA', title: 'supply current of one unit', kind: 'ratio', min: 0, max: 1, scale: 1e3 },
  {
    key: 'lowestNoiseGain',
    label: 'stable at',
    title: 'lowest noise gain it is stable at; 1 for a unity-gain stable part',
    kind: 'ratio',
    min: 1,
    max: 1000,
  },
];

/** Op-amps that the library does not hold, by the figures of their data sheets; every design can choose them. */
export function OwnOpAmps() {
  const opAmps = useOwnOpAmps();
  const { notification } = App.useApp();
  const add = () => void putOpAmps([{ ...OP_AMPS[0], id: newId(), name: `Op-amp ${(opAmps?.length ?? 0) + 1}` }]);
  async function read(): Promise<void> {
    const file = await pickTextFile('.csv,.txt,.tsv');
    if (!file) return;
    const taken = readOpAmpCsv(file.text, OP_AMPS[0], newId);
    if (!taken.ok)
      return void notification.error({
        title: `${file.name} was not taken`,
        description: failureWords(taken),
        duration: 0,
      });
    await putOpAmps(taken.value);
  }
  if (!opAmps) return null;
  return (
    <section aria-label="Op-amps of your own" className={styles.ownOpAmps}>
      <div className="shelf-bar">
        <h2>Op-amps of your own</h2>
        <span className="shelf-actions">
          <Button icon={<UploadOutlined />} onClick={() => void read()}>
            Read op-amps
          </Button>
          <Button
            icon={<DownloadOutlined />}
            disabled={opAmps.length === 0}
            onClick={() => download('op-amps.csv', writeOpAmpCsv(opAmps), 'text/csv')}
          >
            Write op-amps
          </Button>
          <Button icon={<PlusOutlined />} onClick={add}>
            Add op-amp
          </Button>
        </span>
      </div>
      {opAmps.length === 0 ? (
        <p className="quiet">
          None yet. An op-amp added here, with the figures of its data sheet, can be chosen in every design and goes
          along with it.
        </p>
      ) : (
        <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Table of op-amps">
          <table className={`sheet ${styles.stockTable}`}>
            <thead>
              <tr>
                <th>name</th>
                {FIGURES.map((f) => (
                  <th key={f.key} className="number" title={f.title}>
                    {f.label}
                  </th>
                ))}
                <th />
              </tr>
            </thead>
            <tbody>
              {opAmps.map((o) => (
                <OpAmpRow key={o.id} opAmp={o} />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function OpAmpRow({ opAmp }: { opAmp: OpAmp }) {
  const change = (patch: Partial<OpAmp>) => {
    const next = { ...opAmp, ...patch };
    void putOpAmps([{ ...next, unityGainStable: next.lowestNoiseGain <= 1 }]);
  };
  return (
    <tr data-testid="op-amp-row">
      <td>
        <Input
          key={opAmp.name}
          size="small"
          aria-label="Name of the op-amp"
          defaultValue={opAmp.name}
          maxLength={80}
          onBlur={(e) =>
            e.target.value.trim() ? change({ name: e.target.value.trim() }) : (e.target.value = opAmp.name)
          }
        />
      </td>
      {FIGURES.map(({ key, title, kind, min, max, scale = 1 }) => (
        <td key={key} className={styles.stockSmall}>
          <QuantityInput
            label={`${title} of ${opAmp.name}`}
            hideLabel
            small
            kind={kind}
            min={min * scale}
            max={max * scale}
            value={Number((opAmp[key] * scale).toPrecision(9))}
            onChange={(v) => v !== null && change({ [key]: v / scale })}
          />
        </td>
      ))}
      <td>
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label={`Remove ${opAmp.name}`}
          onClick={() => void removeOpAmp(opAmp.id)}
        />
      </td>
    </tr>
  );
}
