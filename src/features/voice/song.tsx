'use client';

import { Button, Progress } from 'antd';
import { calledIn } from '@/core/design/stages/designators';
import type { Song as SongAnswer, SungPoint } from '@/core/jobs/voice/song';
import { formatFixed, formatQuantity, formatSigned } from '@/core/units/quantity';
import { useDesignJob } from '@/store/use-design-job';
import { useSelectedStage } from '@/store/use-selected-stage';
import { minus, SmallChart } from '@/ui/chart/small-chart';
import { Panel } from '@/ui/panel';
import { useStarted } from './use-started';

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 4 });
const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 3 });
const ohm = (v: number) => formatQuantity(v, 'resistance', { digits: 3 });
const percent = (harmonics: readonly number[]) => formatFixed(100 * Math.hypot(...harmonics), 2);
/** A period against which the chart of the wave is drawn. */
const WHOLE = 100;

/** Past the beginning of song: how loud it is, how purely it sings, and how its pitch is kept. */
export function Song() {
  const { progress, answer: song, stale, failed, start, stop } = useStarted('song');
  const { facts } = useSelectedStage();
  const law = useDesignJob('control-law', {});
  if (!law?.singing) return null;
  return (
    <Panel name="The oscillation" testId="song">
      <header>
        <h2>The oscillation, run in time</h2>
        {progress === null ? (
          <Button size="small" onClick={() => void start({})}>
            Let it oscillate
          </Button>
        ) : (
          <Button size="small" onClick={stop}>
            Stop
          </Button>
        )}
      </header>
      {progress !== null && <Progress percent={Math.round(100 * progress)} size="small" aria-label="Oscillating" />}
      {failed && <p className="reason">{failed}</p>}
      {!song && progress === null && !failed && (
        <p className="reason quiet">
          With its rails, slew and junctions, until one wave repeats: how loud and how pure past its beginning, and what
          its pitch does over the control.
        </p>
      )}
      {song && (
        <>
          {stale && <p className="reason quiet">Of the circuit as it was; let it oscillate again.</p>}
          <Points song={song} part={calledIn(facts, song.part)} />
          <Wave wave={song.wave} />
          <Pitch song={song} />
        </>
      )}
    </Panel>
  );
}

function Points({ song, part }: { song: SongAnswer; part: string }) {
  const rows: readonly (SungPoint & { readonly here?: boolean })[] = [
    ...song.points,
    ...(song.now ? [{ ...song.now, here: true }] : []),
  ].sort((a, b) => a.beyond - b.beyond);
  return (
    <table className="sheet speaker-figures" data-testid="song-points">
      <thead>
        <tr>
          <th className="number">{part}</th>
          <th className="number" title="how far past the resistor at which it begins, as a factor">
            past
          </th>
          <th className="number">at</th>
          <th className="number" title="off the frequency at which it begins">
            cents
          </th>
          <th className="number">RMS</th>
          <th className="number">peak</th>
          <th className="number">harmonics, %</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((p) => (
          <tr key={`${p.ohm}${p.here ? ' now' : ''}`} className={p.here ? 'lit' : undefined}>
            <td className="number">
              {ohm(p.ohm)}
              {p.here ? ', now' : ''}
            </td>
            <td className="number">{formatFixed(p.beyond, 2)}</td>
            <td className="number">{hz(p.freqHz)}</td>
            <td className="number">{formatSigned(p.offCents, 'ratio', 0)}</td>
            <td className="number">{volts(p.rmsVolts)}</td>
            <td className="number">{volts(p.peakVolts)}</td>
            <td className="number">{percent(p.harmonics)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Wave({ wave }: { wave: Float64Array }) {
  const most = wave.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  return (
    <SmallChart
      testId="song-wave"
      height={110}
      lines={[{ name: 'wave', x: Array.from(wave, (_, i) => (WHOLE * i) / wave.length), y: Array.from(wave) }]}
      x={{ from: 0, to: WHOLE, labelled: [0, 25, 50, 75, 100], format: String }}
      y={{ from: -most, to: most, labelled: [-most, 0, most], format: minus }}
      title="one period, V"
      xUnit="%"
    />
  );
}

/** Cents off a straight scale between the ends of what was looked at. */
function Pitch({ song: { pitch } }: { song: SongAnswer }) {
  if (!pitch || pitch.worstCents === null) return null;
  const { points, worstCents } = pitch;
  const [first, last] = [points[0], points[points.length - 1]];
  return (
    <p className="reason" data-testid="song-pitch">
      Its pitch goes from <b className="figures">{hz(first.freqHz)}</b>
      {first.volts !== null && ` at ${volts(first.volts)}`} to <b className="figures">{hz(last.freqHz)}</b>
      {last.volts !== null && ` at ${volts(last.volts)}`}, {formatFixed(worstCents, 1)}&#8239;cents off a straight scale
      between them at most.
    </p>
  );
}
