'use client';

import { Button } from 'antd';
import { writeWav } from '@/core/format/wav';
import type { Heard } from '@/core/jobs/sound/heard';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { documentStore } from '@/store/document';
import { download, fileName } from '@/ui/download';
import { Fold } from '@/ui/fold';
import { Spectrum } from './spectrum';
import { SpectrogramView } from './spectrogram-view';
import styles from './listen.module.css';

const voltsOf = (v: number | null) => (v === null ? '–' : formatQuantity(v, 'voltage', { digits: 2 }));

export interface HeardVariant {
  readonly id: string;
  readonly name: string;
  readonly heard: Heard;
}

/** What was rendered of each variant: played, kept as a file, and seen as spectra. */
export function HeardPanel({
  heard: all,
  playing,
  onPlay,
  onStop,
}: {
  heard: readonly HeardVariant[];
  playing: string | null;
  onPlay: (id: string) => void;
  onStop: () => void;
}) {
  const sounds = all.map(({ name, heard }) => ({ name, samples: heard.samples, rateHz: heard.rateHz }));
  return (
    <>
      <section className="panel" aria-label="What was heard" data-testid="heard">
        <table className="sheet speaker-figures">
          <thead>
            <tr>
              <th>variant</th>
              <th className="number">peak</th>
              <th className="number">RMS</th>
              <th className="number" title="seconds of sound for a second of work">
                × real time
              </th>
              <th />
            </tr>
          </thead>
          <tbody>
            {all.map(({ id, name, heard }) => (
              <tr key={id}>
                <td>{name}</td>
                <td className="number">{voltsOf(heard.peakVolts)}</td>
                <td className="number">{voltsOf(heard.rmsVolts)}</td>
                <td className="number">{formatFixed(heard.timesRealTime, 1)}</td>
                <td className={styles.rowActs}>
                  <Button
                    size="small"
                    aria-label={`${playing === id ? 'Stop' : 'Play'} ${name}`}
                    onClick={() => (playing === id ? onStop() : onPlay(id))}
                  >
                    {playing === id ? 'stop' : 'play'}
                  </Button>{' '}
                  <Button
                    size="small"
                    aria-label={`Save ${name} as WAV`}
                    onClick={() =>
                      download(
                        fileName(`${documentStore.getState().design?.title ?? ''} ${name}`, 'wav'),
                        writeWav(heard.samples, heard.rateHz),
                        'audio/wav',
                      )
                    }
                  >
                    WAV
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {all.some((r) => !r.heard.exact) && (
          <p className="reason quiet">
            Stepped with all that bends in it, eight times for each sample: devices, and op-amps within their swing and
            slew.
          </p>
        )}
        <Spectrum heard={sounds} />
      </section>
      <Fold name="Spectrogram" title="Spectrogram" outcome="frequency against time, of each that was heard">
        <SpectrogramView heard={sounds} />
      </Fold>
    </>
  );
}
