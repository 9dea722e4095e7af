import { execFileSync } from 'node:child_process';
import { AcSolver } from '../src/core/analysis/ac/solver';
import { demoDesigns } from '../src/core/design/demo/demo';
import { logGrid } from '../src/core/math/grid';
import { builtVariant } from '../src/core/jobs/reading/built-variant';
import { JobRunner } from '../src/core/jobs/run-job';
import { analyse } from '../src/core/measure/analyse';
import { recordedBy, WORKSHOP_CARD } from '../src/core/measure/card';
import { sweepSamples } from '../src/core/measure/sweep';
import { must } from '../src/core/result';

const RATE_HZ = 96e3;

/** What the bench asks of a machine: a sweep read, the faults of a board ranked, a long recording in little memory. */
export async function measureBench(): Promise<Record<string, string>> {
  const sweep = must(sweepSamples({ fromHz: 10, toHz: 40e3, seconds: 10, rateHz: RATE_HZ, levelDbfs: -6 }));
  const recorded = recordedBy({ ...WORKSHOP_CARD, fullScaleVolts: 1 }, sweep, RATE_HZ, 1);
  const read = () => must(analyse({ samples: recorded, rateHz: RATE_HZ }, { samples: sweep, rateHz: RATE_HZ }));
  read();
  const analysed = timed(read);
  return {
    'a 10 s sweep at 96 kHz analysed': `${analysed.toFixed(0)} ms`,
    'five minutes at 48 kHz': execFileSync(process.execPath, ['--import', 'tsx', 'bench/long-recording.ts'], {
      encoding: 'utf8',
    }).trim(),
    'faults ranked': await ranked(),
  };
}

async function ranked(): Promise<string> {
  const design = demoDesigns().find((d) => d.title.startsWith('Chapel cabinet'));
  if (!design) return 'no such design';
  const built = must(builtVariant(design, design.currentVariant));
  const freqHz = logGrid(20, 20e3, 200);
  const [row] = must(new AcSolver().sweep(built.circuit, freqHz, [built.ways[0].output]));
  const measured = {
    probe: 'out',
    freqHz: [...freqHz],
    levelDb: Array.from(freqHz, (f, i) => 20 * Math.log10(Math.hypot(row[2 * i], row[2 * i + 1])) + (f > 200 ? 1 : 0)),
    phaseDeg: Array.from(freqHz, (_, i) => (Math.atan2(row[2 * i + 1], row[2 * i]) * 180) / Math.PI),
    noiseDb: null,
    uncalibrated: false,
  };
  const runner = new JobRunner();
  const asked = { kind: 'rank-faults', design, variantId: design.currentVariant, measured: [measured] } as const;
  const start = performance.now();
  const { values } = must(await runner.run<'rank-faults'>({ ...asked, measured: [measured] }));
  return `${values.length} parts in ${(performance.now() - start).toFixed(0)} ms`;
}

function timed(work: () => void): number {
  const times = Array.from({ length: 5 }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[2];
}
