'use client';

import { formatFixed } from '@/core/units/quantity';
import { Button } from 'antd';
import { useEffect } from 'react';
import type { Move } from '@/core/design/document/played';
import type { Play } from '@/core/jobs/sound/player';
import type { SoundSource } from '@/core/jobs/sound/sound-source';
import { writeWav } from '@/core/format/wav';
import { RATE_HZ } from '@/core/jobs/sound/rate';
import { documentStore } from '@/store/document';
import {
  perform,
  setLiveVolume,
  startLive,
  startRecording,
  stopLive,
  stopRecording,
  useLive,
} from '@/store/live-sound';
import { download, fileName } from '@/ui/download';
import { failureWords } from '@/ui/words/failures';

/** How it is sounded, by steps under the best. */
const STEPS_WORDS = [
  'Knobs are heard within a twentieth of a second.',
  'Knobs are heard a sixth of a second after they are turned.',
  'The machine is busy: it runs at the plain rate, the highest overtones a little bent.',
  'The machine is busy: it runs at the plain rate, and follows the hand half a second late.',
];

/**
 * The circuit sounding while it is turned: controls, parts and variants are heard as they change, on whatever pane is
 * open.
 */
export function Live({
  source,
  hz,
  volts,
  volume,
  play,
  moves,
}: {
  source: SoundSource;
  hz: number;
  volts: number;
  volume: number;
  play: Play;
  moves: readonly Move[];
}) {
  const { state, gaps, stepsDown, playedS, timesRealTime, failed, recording } = useLive();
  useEffect(() => setLiveVolume(volume), [volume]);
  useEffect(() => perform(play, moves), [play, moves]);
  return (
    <div className="listen-row" data-testid="live">
      {state === 'silent' ? (
        <Button onClick={() => void startLive({ source, hz, volts, play, moves }, volume)}>
          {play.kind === 'keys'
            ? 'Sound it while I play'
            : play.kind === 'sequence'
              ? 'Play the sequence'
              : 'Sound it while I turn'}
        </Button>
      ) : (
        <>
          <Button onClick={stopLive}>Silence</Button>
          {state === 'sounding' && <Record recording={recording} />}
        </>
      )}
      <span className="reason" role="status">
        {state === 'starting' && 'Getting ready …'}
        {state === 'sounding' && (
          <>
            Sounding{' '}
            <span data-testid="live-seconds" className="figures">
              {formatFixed(playedS, 0)}
            </span>{' '}
            s, {formatFixed(timesRealTime, 1)} × real time,{' '}
            <span data-testid="live-gaps" className="figures">
              {gaps}
            </span>{' '}
            {gaps === 1 ? 'gap' : 'gaps'}. {STEPS_WORDS[stepsDown]} Turn a control or change a part.
          </>
        )}
        {failed && (
          <span className="failure" role="alert">
            {failureWords(failed)}
          </span>
        )}
      </span>
    </div>
  );
}

/** Keeps what is played and turned from now on, as a file. */
function Record({ recording }: { recording: boolean }) {
  const save = async () => {
    const kept = await stopRecording();
    const title = documentStore.getState().design?.title ?? '';
    if (kept && kept.length > 0) download(fileName(`${title} played`, 'wav'), writeWav(kept, RATE_HZ), 'audio/wav');
  };
  return recording ? (
    <Button onClick={() => void save()}>Stop and save WAV</Button>
  ) : (
    <Button onClick={() => void startRecording()}>Record</Button>
  );
}
