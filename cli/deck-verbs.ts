import { noiseCsv, responseCsv, toleranceCsv, transientCsv } from '../src/core/jobs/shell/command-line';
import type { JobAnswers, JobRequest } from '../src/core/jobs/run-job';
import { CommandError } from './command-error';
import { GRID_HELP, gridOf, optionsOf, quantity, runner, text, valueOr, type Verb, type VerbCall } from './options';

/** Verbs that read a deck and analyse it. */

const TEMPERATURE = { temperature: 'degrees Celsius (27)' };
const PROBE = { probe: 'node, v(a,b) or i(Vname) (out)' };

function verb(
  says: string,
  describe: Readonly<Record<string, string>>,
  run: Verb['run'],
  repeated: readonly string[] = [],
): Verb {
  const all = { ...describe, ...TEMPERATURE };
  const options = optionsOf(all);
  for (const name of repeated) options[name] = { type: 'string', multiple: true };
  return { says, files: 1, describe: all, options, run };
}

/** What every deck analysis is asked with. */
function common(call: VerbCall): { deck: string; temperatureC: number; probe: string } {
  const temperatureC = quantity(call.values, 'temperature', 27);
  if (!(temperatureC > -273.15 && temperatureC < 1000))
    throw new CommandError(2, '--temperature must lie between -273.15 and 1000');
  return { deck: call.io.readFile(call.files[0]), temperatureC, probe: text(call.values, 'probe') ?? 'out' };
}

type Noted = {
  [K in keyof JobAnswers]: JobAnswers[K] extends { readonly notes: readonly string[] } ? K : never;
}[keyof JobAnswers];

async function answer<K extends Noted & JobRequest['kind']>(
  call: VerbCall,
  request: Extract<JobRequest, { kind: K }>,
): Promise<JobAnswers[K]> {
  const value = valueOr(await runner.run<K>(request));
  value.notes.forEach(call.io.note);
  return value;
}

const json = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

const response = verb(
  'AC response of a deck, as CSV frequency_hz,magnitude_db,phase_deg',
  { ...PROBE, ...GRID_HELP },
  async (call) => {
    const freqHz = gridOf(call);
    const { levelDb, phaseDeg } = await answer<'response'>(call, { kind: 'response', ...common(call), freqHz });
    return responseCsv(freqHz, levelDb, phaseDeg);
  },
);

const restingPoint = verb('resting voltages and currents, as JSON', {}, async (call) => {
  const { nodes, currents } = await answer<'operating-point'>(call, { kind: 'operating-point', ...common(call) });
  return json({ nodes, currents });
});

const transient = verb(
  'the circuit in time from its operating point, as CSV time_s and a column a probe',
  { stop: 'last time, s', step: 'spacing of the output, s', probe: 'node, v(a,b) or i(Vname); may be repeated (out)' },
  async (call) => {
    const { values } = call;
    const [stopS, stepS] = [quantity(values, 'stop'), quantity(values, 'step')];
    if (!(stepS > 0 && stopS >= stepS && Number.isFinite(stopS)))
      throw new CommandError(2, '--step must be positive and no longer than --stop');
    const probes = Array.isArray(values.probe) ? values.probe : ['out'];
    const { deck, temperatureC } = common(call);
    const { timeS, traces } = await answer<'transient'>(call, {
      kind: 'transient',
      deck,
      temperatureC,
      stopS,
      stepS,
      probes,
    });
    return transientCsv(timeS, probes, traces);
  },
  ['probe'],
);

const noise = verb(
  'noise at a probe, as CSV frequency_hz,output_v_per_rthz,input_v_per_rthz',
  { ...PROBE, source: 'source that input noise is referred to', ...GRID_HELP },
  async (call) => {
    const freqHz = gridOf(call);
    const source = text(call.values, 'source');
    if (source === undefined) throw new CommandError(2, '--source is missing');
    const { output, input } = await answer<'noise'>(call, { kind: 'noise', ...common(call), source, freqHz });
    return noiseCsv(freqHz, output, input);
  },
);

const poles = verb('poles, zeros (rad/s) and gain from the AC sources to a probe, as JSON', PROBE, async (call) => {
  const { poles: found, zeros, gain } = await answer<'poles'>(call, { kind: 'poles', ...common(call) });
  return json({ poles: found, zeros, gain });
});

const tolerance = verb(
  'spread of the response over seeded draws of the parts, as CSV of percentiles',
  {
    ...PROBE,
    runs: 'draws (500)',
    seed: 'whole number that fixes the draws (1)',
    resistors: 'per cent either way (1)',
    capacitors: 'per cent either way (5)',
    inductors: 'per cent either way (5)',
    ...GRID_HELP,
  },
  async (call) => {
    const { values } = call;
    const freqHz = gridOf(call);
    const [runs, seed] = [quantity(values, 'runs', 500), quantity(values, 'seed', 1)];
    if (!(Number.isInteger(runs) && runs >= 1 && runs <= 100_000))
      throw new CommandError(2, '--runs must be a whole number from 1 to 100000');
    if (!Number.isInteger(seed)) throw new CommandError(2, '--seed must be a whole number');
    const [resistors, capacitors, inductors] = (['resistors', 'capacitors', 'inductors'] as const).map((name) => {
      const percent = quantity(values, name, name === 'resistors' ? 1 : 5);
      if (!(percent >= 0 && percent < 100)) throw new CommandError(2, `--${name} must lie between 0 and 100`);
      return percent;
    });
    return toleranceCsv(
      freqHz,
      await answer<'tolerance'>(call, {
        kind: 'tolerance',
        ...common(call),
        freqHz,
        runs,
        seed,
        resistors,
        capacitors,
        inductors,
      }),
    );
  },
);

export const DECK_VERBS: Readonly<Record<string, Verb>> = {
  response,
  'operating-point': restingPoint,
  transient,
  noise,
  poles,
  tolerance,
};
