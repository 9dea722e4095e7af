import type { Failure } from '../src/core/result';

type Data = Failure['data'];
interface Words {
  /** 2 for bad usage or input, 3 where there is no solution. */
  readonly exitCode: 2 | 3;
  say(data: Data): string;
}
const usage = (say: Words['say']): Words => ({ exitCode: 2, say });
const unsolved = (say: Words['say']): Words => ({ exitCode: 3, say });

const SWEEP_FAULTS: Readonly<Record<string, string | undefined>> = {
  rate: '--rate lies between 8k and 768k',
  range: '--from is positive and at least an octave under --to',
  top: '--to is at most 0.495 of --rate',
  seconds: '--seconds lies between 0.05 and 120',
  level: '--level is at most 0 dB re full scale, and at least -120',
};

/** What every failure that a verb may meet is said as, in one line, and the exit code it calls for. */
export const FAILURE_WORDS: Readonly<Record<string, Words | undefined>> = {
  deck: usage((d) => (Number(d.line) > 0 ? `line ${d.line}: ${d.message}` : String(d.message))),
  'bad-request': usage((d) => `this cannot be asked: ${d.at}: ${d.reason}`),
  'bad-option': usage((d) => `${d.option} '${d.value}' is not on offer; choose from: ${d.allowed}`),
  'no-such-probe': usage((d) => `--probe '${d.probe}': there is no such node or source in the deck`),
  'no-such-place': usage((d) => `--measured @${d.place}: there is no such place; there are: ${d.places}`),
  'no-such-source': usage((d) => `--source '${d.source}': there is no such source in the deck`),
  'too-many-points': usage((d) => `${d.points} points are too many; the most is ${d.most}`),
  'wrong-order': usage((d) => `${d.topology} does not build a section of order ${d.order}`),
  'not-json': usage((d) => `this does not read as JSON: ${d.message}`),
  'not-a-design': usage(() => 'this is JSON, but not a design of this program'),
  'newer-version': usage(
    (d) => `this design was written by a newer program (version ${d.version}; this one knows ${d.known})`,
  ),
  'broken-design': usage((d) => `this design is damaged: ${[d.issues].flat().join('; ')}`),
  'not-a-wav': usage((d) => (d.file ? `the ${d.file} is not a WAV file` : 'this is not a WAV file')),
  'wav-format': usage(
    (d) => `WAV of format ${d.format} with ${d.bits} bits is not read; 16, 24 or 32 bits, or floats, are`,
  ),
  'empty-file': usage((d) => `the ${d.file ?? 'file'} holds no samples`),
  'bad-sweep': usage((d) => SWEEP_FAULTS[String(d.what)] ?? `this is no sweep: ${d.what}`),
  'not-a-sweep': usage(
    () => 'the sweep’s file is not an exponential sweep: a tone that rises as many seconds an octave',
  ),
  'rate-differs': usage((d) => `the ${d.what} has ${d.rateHz} samples a second; ${d.wantedHz} are wanted`),
  'silent-recording': usage((d) => `the ${d.what} is silent: nothing in it is over −100 dB of full scale`),
  'recording-clipped': usage(
    (d) =>
      `the ${d.what} is clipped: ${(100 * Number(d.share)).toPrecision(2)} % of it stands at full scale; play it lower`,
  ),
  'wav-long': usage((d) => `the ${d.file ?? 'file'} has ${d.megabytes} MB; ${d.most} are read`),
  'recording-broken': usage(
    (d) => `the ${d.what} breaks off at ${Number(d.atS).toPrecision(3)} s and goes on elsewhere: samples were lost`,
  ),
  'recording-too-short': usage(
    (d) =>
      `the ${d.what} is too short: ${Number(d.seconds).toFixed(2)} s, and the sweep alone ` +
      `takes ${Number(d.neededS).toFixed(2)} s`,
  ),
  'sweep-not-found': usage(
    (d) =>
      `the sweep is not found in the ${d.what}: another sweep, another rate, cut off before its end, ` +
      `or drowned in noise`,
  ),
  'channels-swapped': usage(() => 'the reference is not even and the recording is: the two are swapped, it seems'),
  'measured-columns': usage((d) => `${d.file}: the first line is to name frequency_hz and magnitude_db`),
  'measured-row': usage((d) => `${d.file}: line ${d.line}: frequencies rise and levels are numbers`),
  'nothing-measured': usage((d) => `at ${d.probe}: fewer than three points were measured`),
  'bad-fault': usage((d) => `--fault '${d.fault}' is no fault; write R3=open, R3=short, R3=x10, R3~R4 or U1=dead`),
  'no-part-there': usage((d) => `there is no part '${d.part}'; there are: ${d.parts}`),
  'swap-of-kinds': usage((d) => `--fault '${d.fault}': only parts of one kind are taken for one another`),
  'no-such-variant': usage(
    (d) => `there is no variant '${d.variant}'${d.variants ? `; there are: ${d.variants}` : ''}`,
  ),
  'no-such-topology': usage((d) => `there is no circuit '${d.topology}'; see: reed topologies`),
  'no-such-form': usage((d) => `--mode '${d.form}' is not on offer; choose from: ${d.forms}`),
  'no-such-parameter': usage((d) => `--set ${d.name}: this circuit is not asked for that; it is for: ${d.names}`),
  'no-such-control': usage((d) => `--control '${d.control}': there is no such control; there are: ${d.controls}`),
  'no-mask': usage((d) => `limits are missing (${d.why}): something is to be kept, and something lost`),
  'mask-crossed': usage(() => 'something is to be kept where it is to be lost'),
  'no-unique-solution': unsolved((d) => `the circuit has no single solution: '${d.unknown}' is not determined`),
  'no-convergence': unsolved((d) =>
    d.timeS === undefined
      ? `no operating point: '${d.node}' did not settle in ${d.iterations} steps`
      : `at ${d.timeS} s '${d.node}' would not settle`,
  ),
  'too-large': unsolved((d) => `${d.unknowns} unknowns are too many for this analysis; the most is ${d.most}`),
  'too-many-steps': unsolved((d) => `at ${d.timeS} s the circuit or its sources ask for steps too small to finish`),
  'gain-not-reached': unsolved(
    (d) => `these stages miss the gain asked for by ${Number(d.db).toFixed(2)} dB; try --topology multiple-feedback`,
  ),
  'not-in-a-deck': unsolved((d) => `a deck cannot say what '${d.element}' is (${d.kind}); nothing was written`),
  sings: unsolved((d) => `it sings at ${Number(d.freqHz).toPrecision(5)} Hz by itself: what is asked has no answer`),
  'did-not-settle': unsolved(
    (d) => `at ${Number(d.timeS).toPrecision(4)} s the circuit would not settle; lower the level or the resonance`,
  ),
};
