import { analysedCsv, analyseVerb, benchVerb, sweepVerb } from '../src/core/jobs/shell/measure-verbs';
import { faultsJson, faultsVerb } from '../src/core/jobs/shell/faults-verb';
import { parseQuantity } from '../src/core/units/quantity';
import { CommandError } from './command-error';
import { all, VARIANT, verbOf } from './design-verbs';
import { quantity, runner, text, valueOr, type Verb, type VerbCall } from './options';

/** Verbs about boards that were built: what is played into them, what is recorded, and what that says. */

const optional = (values: VerbCall['values'], name: string): number | undefined =>
  text(values, name) === undefined ? undefined : quantity(values, name);

function needed(values: VerbCall['values'], name: string): string {
  const given = text(values, name);
  if (given === undefined) throw new CommandError(2, `--${name} is missing`);
  return given;
}

const sweep = verbOf({
  says: 'writes a sweep as it is played, with its silence after, as a 32-bit float WAV',
  describe: {
    from: 'first tone, Hz (10)',
    to: 'last tone, Hz (20k)',
    seconds: 'how long it rises (3)',
    rate: 'samples a second (48k)',
    level: 'peak, dB re full scale (-12)',
  },
  files: 0,
  async run({ values }) {
    needed(values, 'out');
    return valueOr(
      sweepVerb({
        fromHz: quantity(values, 'from', 10),
        toHz: quantity(values, 'to', 20e3),
        seconds: quantity(values, 'seconds', 3),
        rateHz: quantity(values, 'rate', 48e3),
        levelDbfs: quantity(values, 'level', -12),
      }),
    );
  },
});

const analyse = verbOf({
  says: 'level, phase, noise and harmonics of what a sweep went through, as CSV; all on the scale of the magnitude',
  describe: {
    sweep: 'WAV file: the sweep as it was played',
    reference: 'WAV file: the card by itself, divided out',
    gate: 's that are listened to after the first sound (as long as there is anything over the noise)',
    'points-per-octave': 'how many points an octave (24)',
  },
  async run({ files, values, io }) {
    const reference = text(values, 'reference');
    const answer = valueOr(
      analyseVerb(
        {
          recording: io.readBytes(files[0]),
          sweep: io.readBytes(needed(values, 'sweep')),
          ...(reference === undefined ? {} : { reference: io.readBytes(reference) }),
        },
        { gateS: optional(values, 'gate'), pointsPerOctave: optional(values, 'points-per-octave') },
      ),
    );
    const late = `${(1000 * answer.delayS).toFixed(4)} ms late${answer.delayRemoved ? ', taken off the phase' : ''}`;
    io.note(`${late}; ${(1000 * answer.gateS).toFixed(1)} ms listened to; sweeps: ${answer.sweeps}`);
    return analysedCsv(answer);
  },
});

const bench = verbOf({
  says: 'what the simulated sound card records of one built board, as a 32-bit float WAV',
  describe: {
    ...VARIANT,
    seed: 'number: which board; parts and noise follow from it (1)',
    rate: 'samples a second; the sweep’s',
    fault: 'R3=open, R3=short, R3=x10, R3~R4 or U1=dead; may be repeated',
    snr: 'dB of signal over noise (the card’s own noise)',
    of: 'board, or cable: the card alone (board)',
    in: 'WAV file: what is played',
  },
  repeated: ['fault'],
  async run({ files, values, io }) {
    needed(values, 'out');
    const of = text(values, 'of') ?? 'board';
    if (of !== 'board' && of !== 'cable') throw new CommandError(2, `--of '${of}' is neither board nor cable`);
    return valueOr(
      await benchVerb(io.readFile(files[0]), io.readBytes(needed(values, 'in')), {
        variant: text(values, 'variant'),
        seed: quantity(values, 'seed', 1),
        rateHz: optional(values, 'rate'),
        faults: all(values, 'fault'),
        snrDb: optional(values, 'snr'),
        cable: of === 'cable',
      }),
    );
  },
});

/** `FILE` or `FILE@PROBE`. */
function measuredAt(given: string, io: VerbCall['io']) {
  const at = given.lastIndexOf('@');
  const [file, probe] = at > 0 ? [given.slice(0, at), given.slice(at + 1)] : [given, 'out'];
  return { file, probe, text: io.readFile(file) };
}

/** `NODE=V`. */
function readingOf(given: string) {
  const at = given.lastIndexOf('=');
  const volts = parseQuantity(given.slice(at + 1), 'voltage');
  if (at < 1 || !volts.ok) throw new CommandError(2, `--volts '${given}' is no NODE=V`);
  return { node: given.slice(0, at), volts: volts.value };
}

const faults = verbOf({
  says: 'what may be wrong with a board that was measured, likeliest first, as JSON',
  describe: {
    ...VARIANT,
    measured: 'CSV or CSV@PROBE, as analyse or response write it (at out); may be repeated',
    volts: 'NODE=V, as a meter has it at rest, from signal ground; may be repeated',
    resistors: 'per cent they are made to (the design’s)',
    capacitors: 'per cent (the design’s)',
    inductors: 'per cent (the design’s)',
  },
  repeated: ['measured', 'volts'],
  async run({ files, values, io }) {
    const given = all(values, 'measured');
    const volts = all(values, 'volts');
    if (given.length + volts.length === 0) throw new CommandError(2, '--measured or --volts is missing');
    const tolerances = Object.fromEntries(
      (['resistor', 'capacitor', 'inductor'] as const).flatMap((kind) => {
        const percent = optional(values, `${kind}s`);
        if (percent !== undefined && !(percent > 0 && percent <= 50))
          throw new CommandError(2, `--${kind}s is over 0 and at most 50 per cent`);
        return percent === undefined ? [] : [[kind, percent]];
      }),
    );
    const answer = valueOr(
      await faultsVerb(
        io.readFile(files[0]),
        text(values, 'variant'),
        { measured: given.map((g) => measuredAt(g, io)), read: volts.map(readingOf) },
        tolerances,
        runner,
      ),
    );
    return `${JSON.stringify(faultsJson(answer), null, 2)}\n`;
  },
});

export const MEASURE_VERBS: Readonly<Record<string, Verb>> = { sweep, analyse, bench, faults };
