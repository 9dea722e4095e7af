import { dominantSection } from '../../analysis/roots/poles';
import type { AcSolver } from '../../analysis/ac/solver';
import { compileStage, type Compilation } from '../../design/compiled/compile';
import { noiseGainOf } from '../../design/compiled/noise-gain';
import type { Brief, Design, Way } from '../../design/document/schema';
import { supplyVolts, type DesignedStage } from '../../design/stages/stage-design';
import { OP_AMPS, railVolts, swingRoom, type OpAmp } from '../../device/op-amps';
import { nearestPreferred } from '../../parts/preferred';
import { fromDecibels } from '../../units/quantity';
import type { Check, CheckLevel, Cure, DeskJoint, DeskResult, DeskStage, PathCheckCode } from './desk-types';
import { leastSupply } from './least-supply';
import { opAmpOutputs, strains, type Strain } from './op-amp-strain';
import type { WayReading } from '../reading/read-way';

type Facts = Omit<DeskResult, 'checks'>;

const shade = (value: number, warn: number, bad: number): CheckLevel =>
  value >= bad ? 'bad' : value >= warn ? 'warn' : 'ok';

/** Resistances (ohm) and capacitances (farad) outside which a bench part makes trouble. */
const LIMITS = { lowestOhm: 1e3, highestOhm: 1e6, smallestFarad: 100e-12, largestFarad: 1e-6 };

/**
 * Goes over a path as a colleague would: each finding with its numbers, and its cure where the desk can do it. Of what
 * sings nothing is said but that.
 */
export function checkDesk(
  design: Design,
  way: Way,
  built: Compilation,
  facts: Facts,
  solver: AcSolver,
  { natural, stability }: Pick<WayReading, 'natural' | 'stability'>,
): Check[] {
  const { stages } = built.ways[0];
  const ranges = stages.flatMap((designed, k) =>
    designed.stage.bypassed || OWN_RANGES.has(designed.topology.family)
      ? []
      : checkRange(designed, facts.stages[k].name),
  );
  if (!stability.stable)
    return [
      {
        id: 'sings',
        level: 'bad',
        code: stability.undamped ? 'undamped' : stability.singsHz ? 'sings' : 'latches',
        stageId: null,
        data: { freqHz: stability.singsHz ?? 0 },
        cure: null,
      },
      ...ranges,
    ];
  const checks: Check[] = [];
  for (const verdict of facts.brief)
    checks.push({
      id: `brief-${verdict.limitId}`,
      level: verdict.met ? 'ok' : 'bad',
      code: verdict.met ? 'brief-met' : 'brief-missed',
      stageId: null,
      data: { ...verdict, met: String(verdict.met) },
      cure: null,
    });
  if (Math.abs(facts.shortfallDb) > 0.01)
    checks.push({
      id: 'gain',
      level: 'bad',
      code: facts.shortfallDb > 0 ? 'gain-short' : 'gain-surplus',
      stageId: null,
      data: { db: facts.shortfallDb },
      cure: null,
    });
  // Passive networks before a driver are made for one another’s impedance: their joints are no faults.
  if (way.load.kind !== 'driver' || way.load.amplifier)
    checks.push(...facts.joints.map((joint) => checkJoint(design, way, stages, joint)));
  const needsVolts = leastSupply(built);
  if (built.live && needsVolts >= supplyVolts(design))
    checks.push({
      id: 'supply',
      level: 'bad',
      code: 'supply-short',
      stageId: null,
      data: { needsVolts, volts: supplyVolts(design) },
      cure: null,
    });
  checks.push(...stages.flatMap((designed, k) => checkTargets(designed, facts.stages[k])));
  checks.push(...stages.flatMap((designed, k) => checkRest(design, built, designed, facts.stages[k])));
  const strain = strains(built, design.brief, natural, solver);
  stages.forEach((designed, k) => {
    if (designed.stage.bypassed || !designed.device || designed.opAmps === 0) return;
    const { name } = facts.stages[k];
    const gain = noiseGainOf(design, designed, solver);
    if (gain !== null) checks.push(...checkDevice(design, designed, designed.device, name, gain));
    const asked = strain.get(designed.stage.id);
    if (asked) checks.push(...checkLevel(design.brief, designed.stage.id, designed.device, name, asked));
  });
  return [...checks, ...ranges];
}

/** Outputs of a stage's op-amps that are found to rest nearer to a rail than they can get. */
function checkRest(
  { brief }: Design,
  built: Compilation,
  { stage, device }: DesignedStage,
  { name, designators }: DeskStage,
): Check[] {
  if (!built.live || !device || stage.bypassed) return [];
  const { rest } = built.live;
  return opAmpOutputs(built).flatMap(({ element, node }): Check[] => {
    if (!element.startsWith(`${stage.id}.`)) return [];
    const at = built.circuit.structure.nodeOf(node) ?? -1;
    const fromRailVolts = railVolts(brief) - Math.abs(at < 0 ? 0 : rest[at]);
    if (fromRailVolts >= device.headroomVolts) return [];
    const [local] = element.slice(stage.id.length + 1).split('.');
    const reaches = OP_AMPS.filter((o) => o.unityGainStable && o.headroomVolts < fromRailVolts).sort(
      (a, b) => b.gainBandwidthHz - a.gainBandwidthHz,
    )[0];
    return [
      {
        id: `rest-${stage.id}-${local}`,
        level: 'bad',
        code: 'rests-at-rail',
        stageId: stage.id,
        data: {
          name,
          opAmp: designators[local] ?? local,
          device: device.name,
          fromRailVolts,
          headroomVolts: device.headroomVolts,
        },
        cure: reaches ? { kind: 'use-device', stageId: stage.id, device: reaches.id } : null,
      },
    ];
  });
}

/** A share that a level is off, from decibels. */
const shareOfDb = (db: number): number => fromDecibels(Math.abs(db)) - 1;

/** What a circuit of its own is asked for and, with its parts as chosen, misses by more than their tolerance. */
function checkTargets({ stage, parts, topology }: DesignedStage, { name, network }: DeskStage): Check[] {
  if (!network || stage.bypassed || topology.family === 'loudspeaker') return [];
  const bought = parts.filter(({ spec }) => !spec.given && spec.kind !== 'potentiometer');
  const tolerancePct = Math.max(0, ...bought.map((p) => p.tolerancePct));
  return network.parameters.flatMap(({ label, kind, wanted, aimed, got }): Check[] => {
    const asked = aimed ?? wanted;
    const off = kind === 'decibel' ? shareOfDb(got - asked) : Math.abs(got / asked - 1);
    if (asked === 0 || !(100 * off > tolerancePct)) return [];
    return [
      {
        id: `target-${stage.id}-${label}`,
        level: 'warn',
        code: 'off-target',
        stageId: stage.id,
        data: { name, what: label, kind, got, wanted: asked, tolerancePct },
        cure: null,
      },
    ];
  });
}

/**
 * Families whose parts have their own usual values: coils and capacitors for ohms of a driver, resistors of a few
 * hundred ohms beside a transistor.
 */
const OWN_RANGES: ReadonlySet<string> = new Set(['loudspeaker', 'voltage-controlled']);

/** What a transistor's base stands over its emitter, V. */
const JUNCTION_VOLTS = 0.65;

function checkJoint(design: Design, way: Way, stages: readonly DesignedStage[], joint: DeskJoint): Check {
  const last = joint.index === stages.length;
  const before = joint.index > 0 ? stages[joint.index - 1] : null;
  const after = stages[joint.index];
  let cure: Check['cure'] = null;
  let others: Cure[] = [];
  if (joint.verdict !== 'ok' && after?.role === 'network' && after.topology.oneTransistor) {
    // What a transistor takes is mended with one, on the same supply.
    const follower: Cure = {
      kind: 'insert-follower',
      joint: joint.index,
      loadOhm: Math.max(100, joint.seesOhm ?? 10e3),
      emitterVolts: supplyVolts(design) / 2 - JUNCTION_VOLTS,
    };
    cure =
      after.form === 'bootstrapped' ? follower : { kind: 'use-form', stageId: after.stage.id, form: 'bootstrapped' };
    others = after.form === 'bootstrapped' ? [] : [follower];
  } else if (joint.verdict !== 'ok') {
    if (last && way.outputResistor && joint.seesOhm !== null) {
      const wanted = joint.seesOhm * (fromDecibels(0.1) - 1);
      cure = {
        kind: 'set-output-resistor',
        ohm: nearestPreferred(Math.max(47, Math.min(wanted, way.outputResistor.ohm / 2)), 'E12'),
      };
    } else if (before?.topology.id === 'first-order-passive')
      cure = { kind: 'use-topology', stageId: before.stage.id, topology: 'first-order-buffered' };
    else cure = { kind: 'insert-buffer', joint: joint.index };
  }
  return {
    id: `joint-${joint.index}`,
    level: joint.verdict,
    code: last ? 'joint-load' : joint.index === 0 ? 'joint-source' : 'joint',
    stageId: before?.stage.id ?? null,
    data: {
      lossDb: joint.lossDb,
      atHz: joint.atHz,
      seesOhm: joint.seesOhm ?? -1,
      fromOhm: joint.fromOhm,
      index: joint.index,
      load: design.brief.load.name,
      source: design.brief.source.name,
    },
    cure,
    ...(others.length > 0 ? { others } : {}),
  };
}

/**
 * Slip of cutoff and Q from the op-amp's finite bandwidth: the stage's poles with the real op-amp against the ideal
 * one, same parts.
 */
function checkDevice(design: Design, designed: DesignedStage, device: OpAmp, name: string, noiseGain: number): Check[] {
  const { stage } = designed;
  const checks: Check[] = [];
  const stable = device.unityGainStable || noiseGain >= device.lowestNoiseGain;
  if (!stable) {
    const fit = OP_AMPS.find((o) => o.unityGainStable && o.gainBandwidthHz >= 10e6) ?? OP_AMPS[0];
    checks.push({
      id: `stable-${stage.id}`,
      level: 'bad',
      code: 'not-stable',
      stageId: stage.id,
      data: { name, device: device.name, noiseGain, needs: device.lowestNoiseGain },
      cure: { kind: 'use-device', stageId: stage.id, device: fit.id },
    });
  } else
    checks.push({
      id: `stable-${stage.id}`,
      level: 'ok',
      code: 'stable',
      stageId: stage.id,
      data: { name, device: device.name, noiseGain, needs: device.lowestNoiseGain },
      cure: null,
    });
  if (designed.role === 'network' || designed.target.order === 0) return checks;
  const { target } = designed;
  const options = { values: 'chosen' } as const;
  const real = dominantSection(
    compileStage(design, designed, { ...options, devices: 'real' }),
    target.order,
    target.freqHz,
  );
  const ideal = dominantSection(
    compileStage(design, designed, { ...options, devices: 'ideal' }),
    target.order,
    target.freqHz,
  );
  const reach = device.gainBandwidthHz / Math.max(1, noiseGain);
  if (target.freqHz > reach / 3 || !real || !ideal) {
    checks.push({
      id: `reach-${stage.id}`,
      level: 'bad',
      code: 'beyond-reach',
      stageId: stage.id,
      data: { name, device: device.name, freqHz: target.freqHz, reachHz: reach },
      cure: fasterThan(device, stage.id),
    });
    return checks;
  }
  const cutoffPct = 100 * (real.freqHz / ideal.freqHz - 1);
  const qPct = real.q !== undefined && ideal.q !== undefined ? 100 * (real.q / ideal.q - 1) : 0;
  const level = shade(Math.max(Math.abs(cutoffPct), Math.abs(qPct)), 2, 8);
  checks.push({
    id: `bandwidth-${stage.id}`,
    level,
    code: 'bandwidth',
    stageId: stage.id,
    data: {
      name,
      device: device.name,
      gainBandwidthHz: device.gainBandwidthHz,
      cutoffPct,
      qPct,
      margin: reach / (target.freqHz * Math.max(1, target.q)),
    },
    cure: level === 'bad' ? fasterThan(device, stage.id) : predistortion(designed, cutoffPct, qPct),
  });
  return checks;
}

/** Slips that are worth making up for in the values, per cent. */
const WORTH_CUTOFF_PCT = 0.5;
const WORTH_Q_PCT = 1;

/**
 * Where the stage is to be aimed instead, so that it slips to where it belongs; null when it is there, or has been
 * aimed so.
 */
function predistortion({ stage }: DesignedStage, cutoffPct: number, qPct: number): Check['cure'] {
  if (stage.predistortion || (Math.abs(cutoffPct) < WORTH_CUTOFF_PCT && Math.abs(qPct) < WORTH_Q_PCT)) return null;
  return { kind: 'predistort', stageId: stage.id, freq: 1 / (1 + cutoffPct / 100), q: 1 / (1 + qPct / 100) };
}

function fasterThan(device: OpAmp, stageId: string): Check['cure'] {
  const faster = OP_AMPS.filter((o) => o.unityGainStable && o.gainBandwidthHz > device.gainBandwidthHz * 1.5).sort(
    (a, b) => b.gainBandwidthHz - a.gainBandwidthHz,
  )[0];
  return faster ? { kind: 'use-device', stageId, device: faster.id } : null;
}

/** Shares of the swing, and of the slew rate, from which a signal is close and from which it is too much. */
const SWING_SHARES = [0.7, 1] as const;
const SLEW_SHARES = [0.4, 1] as const;

function checkLevel(
  brief: Brief,
  stageId: string,
  device: OpAmp,
  name: string,
  { volts, voltsHz, slewVoltsPerSec, slewHz }: Strain,
): Check[] {
  const roomVolts = swingRoom(brief, device);
  const swing: Check =
    roomVolts <= 0
      ? {
          id: `swing-${stageId}`,
          level: 'bad',
          code: 'no-room',
          stageId,
          data: {
            name,
            device: device.name,
            headroomVolts: device.headroomVolts,
            needsVolts: (brief.supply.kind === 'dual' ? 1 : 2) * device.headroomVolts,
          },
          cure: null,
        }
      : {
          id: `swing-${stageId}`,
          level: shade(volts / roomVolts, ...SWING_SHARES),
          code: 'swing',
          stageId,
          data: { name, volts, roomVolts, atHz: voltsHz },
          cure: null,
        };
  return [
    swing,
    {
      id: `slew-${stageId}`,
      level: shade(slewVoltsPerSec / device.slewVoltsPerSec, ...SLEW_SHARES),
      code: 'slew',
      stageId,
      data: { name, needs: slewVoltsPerSec, has: device.slewVoltsPerSec, atHz: slewHz, device: device.name },
      cure: null,
    },
  ];
}

function checkRange({ stage, parts }: DesignedStage, name: string): Check[] {
  const finding = (code: PathCheckCode, part: string, value: number, limit: number): Check => ({
    id: `range-${stage.id}-${part}`,
    level: 'warn',
    code,
    stageId: stage.id,
    data: { name, part, value, limit },
    cure: null,
  });
  const found = parts.flatMap(({ spec, chosen, choice }): Check[] => {
    if (choice.leftOut || spec.given) return [];
    if (spec.kind === 'resistor' && chosen < LIMITS.lowestOhm)
      return [finding('resistor-low', spec.name, chosen, LIMITS.lowestOhm)];
    if (spec.kind === 'resistor' && chosen > LIMITS.highestOhm)
      return [finding('resistor-high', spec.name, chosen, LIMITS.highestOhm)];
    if (spec.kind === 'capacitor' && chosen < LIMITS.smallestFarad)
      return [finding('capacitor-small', spec.name, chosen, LIMITS.smallestFarad)];
    if (spec.kind === 'capacitor' && chosen > LIMITS.largestFarad)
      return [finding('capacitor-large', spec.name, chosen, LIMITS.largestFarad)];
    return [];
  });
  return found.length > 0
    ? found
    : [{ id: `range-${stage.id}`, level: 'ok', code: 'range', stageId: stage.id, data: { name }, cure: null }];
}
