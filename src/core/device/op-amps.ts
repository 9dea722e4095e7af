import * as z from 'zod';

/**
 * Generic classes of op-amps with typical figures, not any maker's part. The AC model is one pole: DC gain and
 * gain-bandwidth, with an output resistance behind it.
 */
export const opAmpSchema = z.object({
  id: z.string().min(1).max(80),
  name: z.string().min(1).max(80),
  dcGainDb: z.number().min(40).max(180).describe('open-loop gain at DC, dB'),
  gainBandwidthHz: z.number().min(1e3).max(1e10).describe('Hz'),
  outputOhm: z.number().min(0.01).max(1e5).describe('ohm, before feedback'),
  slewVoltsPerSec: z.number().min(1e3).max(1e11).describe('V/s'),
  headroomVolts: z.number().min(0).max(20).describe('how near the output gets to each rail, V'),
  unityGainStable: z.boolean(),
  lowestNoiseGain: z.number().min(1).max(1000).describe('lowest noise gain it is stable at'),
  supplyAmps: z.number().min(0).max(1).describe('of one unit, A'),
  biasAmps: z.number().min(0).max(1e-3).describe('input bias current, A'),
  offsetVolts: z.number().min(0).max(1).describe('input offset voltage, V'),
  noiseVoltsPerRtHz: z.number().min(0).max(1e-5).describe('input voltage noise in the flat part, V/√Hz'),
  unitsPerPackage: z.array(z.int().min(1).max(4)).min(1).max(3).describe('units in a package'),
});
export type OpAmp = z.infer<typeof opAmpSchema>;

const IDEAL_OP_AMP = 'ideal';

export const OP_AMPS: readonly OpAmp[] = [
  {
    id: 'jfet-audio-3mhz',
    name: 'JFET-input audio, 3 MHz',
    dcGainDb: 106,
    gainBandwidthHz: 3e6,
    outputOhm: 100,
    slewVoltsPerSec: 13e6,
    headroomVolts: 1.5,
    unityGainStable: true,
    lowestNoiseGain: 1,
    supplyAmps: 1.4e-3,
    biasAmps: 30e-12,
    offsetVolts: 3e-3,
    noiseVoltsPerRtHz: 18e-9,
    unitsPerPackage: [1, 2, 4],
  },
  {
    id: 'low-noise-bipolar-10mhz',
    name: 'Low-noise bipolar, 10 MHz',
    dcGainDb: 100,
    gainBandwidthHz: 10e6,
    outputOhm: 60,
    slewVoltsPerSec: 9e6,
    headroomVolts: 2,
    unityGainStable: true,
    lowestNoiseGain: 1,
    supplyAmps: 4e-3,
    biasAmps: 200e-9,
    offsetVolts: 0.5e-3,
    noiseVoltsPerRtHz: 5e-9,
    unitsPerPackage: [1, 2],
  },
  {
    id: 'micropower-1mhz',
    name: 'Micropower, 1 MHz',
    dcGainDb: 100,
    gainBandwidthHz: 1e6,
    outputOhm: 400,
    slewVoltsPerSec: 0.5e6,
    headroomVolts: 0.3,
    unityGainStable: true,
    lowestNoiseGain: 1,
    supplyAmps: 60e-6,
    biasAmps: 1e-12,
    offsetVolts: 0.5e-3,
    noiseVoltsPerRtHz: 40e-9,
    unitsPerPackage: [1, 2, 4],
  },
  {
    id: 'rail-to-rail-single-supply',
    name: 'Rail-to-rail, single supply, 4 MHz',
    dcGainDb: 104,
    gainBandwidthHz: 4e6,
    outputOhm: 150,
    slewVoltsPerSec: 3e6,
    headroomVolts: 0.1,
    unityGainStable: true,
    lowestNoiseGain: 1,
    supplyAmps: 0.6e-3,
    biasAmps: 1e-12,
    offsetVolts: 1e-3,
    noiseVoltsPerRtHz: 12e-9,
    unitsPerPackage: [1, 2, 4],
  },
  {
    id: 'general-bipolar-1mhz',
    name: 'General purpose, 1 MHz',
    dcGainDb: 100,
    gainBandwidthHz: 1e6,
    outputOhm: 120,
    slewVoltsPerSec: 0.5e6,
    headroomVolts: 1.8,
    unityGainStable: true,
    lowestNoiseGain: 1,
    supplyAmps: 0.9e-3,
    biasAmps: 60e-9,
    offsetVolts: 2e-3,
    noiseVoltsPerRtHz: 40e-9,
    unitsPerPackage: [2, 4],
  },
  {
    id: 'fast-50mhz-decompensated',
    name: 'Fast, 50 MHz, not unity-gain stable',
    dcGainDb: 100,
    gainBandwidthHz: 50e6,
    outputOhm: 50,
    slewVoltsPerSec: 30e6,
    headroomVolts: 1.8,
    unityGainStable: false,
    lowestNoiseGain: 5,
    supplyAmps: 5e-3,
    biasAmps: 100e-9,
    offsetVolts: 0.5e-3,
    noiseVoltsPerRtHz: 3.5e-9,
    unitsPerPackage: [1, 2],
  },
];

/** Null for the ideal op-amp. Throws for an unknown id. */
export function findOpAmp(id: string, own: readonly OpAmp[] = []): OpAmp | null {
  if (id === IDEAL_OP_AMP) return null;
  const found = OP_AMPS.find((o) => o.id === id) ?? own.find((o) => o.id === id);
  if (!found) throw new Error(`no op-amp is called ${id}`);
  return found;
}

export const OP_AMP_IDS: readonly string[] = [IDEAL_OP_AMP, ...OP_AMPS.map((o) => o.id)];

/** What feeds op-amps: either rail, or one supply from which half is made. V. */
export interface Supplied {
  readonly supply: { readonly kind: 'dual' | 'single'; readonly volts: number };
}

/** How far either rail is from signal ground, V. */
export const railVolts = ({ supply }: Supplied): number => (supply.kind === 'dual' ? supply.volts : supply.volts / 2);

/** What signal ground has over where volts at rest are counted from, V: the minus of a single supply. */
export const groundLift = (supplied: Supplied): number => (supplied.supply.kind === 'single' ? railVolts(supplied) : 0);

/**
 * How far an op-amp's output may swing either way about its reference, V peak; below zero where the supply does not
 * even give it its headroom.
 */
export const swingRoom = (supplied: Supplied, device: OpAmp): number => railVolts(supplied) - device.headroomVolts;
