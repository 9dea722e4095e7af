import { baffleStep } from './baffle-step';
import { bainter } from './bainter';
import { bandPassSubtractor } from './band-pass-subtractor';
import { bridgedT } from './bridged-t';
import { buffer } from './buffer';
import { coilCapacitor } from './coil-capacitor';
import { commonEmitter } from './common-emitter';
import type { NetworkTopology, SectionTopology, Topology } from './define-topology';
import { differentiatorWithLimit } from './differentiator-with-limit';
import { driverNotch } from './driver-notch';
import { driverPad } from './driver-pad';
import { equalSectionsIsolated } from './equal-sections-isolated';
import { equalSectionsLoaded } from './equal-sections-loaded';
import { firstOrderAllPass } from './first-order-all-pass';
import { firstOrderBuffered } from './first-order-buffered';
import { firstOrderCoil } from './first-order-coil';
import { firstOrderPassive } from './first-order-passive';
import { gyratorEqualiser } from './gyrator-equaliser';
import { impedanceCorrection } from './impedance-correction';
import { impedanceConverter } from './impedance-converter';
import { integratorWithLeak } from './integrator-with-leak';
import { lPad } from './l-pad';
import { leapfrogLadder } from './leapfrog-ladder';
import { lagNetwork } from './lag-network';
import { leadLagNetwork } from './lead-lag-network';
import { leadNetwork } from './lead-network';
import { loadedDivider } from './loaded-divider';
import { multipleFeedback } from './multiple-feedback';
import { multipleFeedbackBandPass } from './multiple-feedback-band-pass';
import { optocouplerGate } from './optocoupler-gate';
import { otaCascade } from './ota-cascade';
import { otaOnePole } from './ota-one-pole';
import { otaSallenKey } from './ota-sallen-key';
import { diodeBandPass } from './diode-band-pass';
import { diodeLadder } from './diode-ladder';
import { diodeLegs } from './diode-legs';
import { emitterFollower } from './emitter-follower';
import { junctionFetPhaser } from './junction-fet-phaser';
import { otaLeapfrog } from './ota-leapfrog';
import { otaStateVariable } from './ota-state-variable';
import { parallelLcr } from './parallel-lcr';
import { phaseShiftLadder } from './phase-shift-ladder';
import { piPad } from './pi-pad';
import { sallenKeyBandPass } from './sallen-key-band-pass';
import { sallenKeyChosenGain } from './sallen-key-chosen-gain';
import { sallenKeyEqualParts } from './sallen-key-equal-parts';
import { sallenKeyThirdOrder } from './sallen-key-third-order';
import { sallenKeyUnityGain } from './sallen-key-unity-gain';
import { seriesCrossover } from './series-crossover';
import { seriesLcr } from './series-lcr';
import { shapedAmplifierInverting } from './shaped-amplifier-inverting';
import { shapedAmplifierNonInverting } from './shaped-amplifier-non-inverting';
import { shelvingEqualiser } from './shelving-equaliser';
import { stateVariable } from './state-variable';
import { stateVariablePlus } from './state-variable-plus';
import { tPad } from './t-pad';
import { toneControl } from './tone-control';
import { towThomas } from './tow-thomas';
import { transistorLadder } from './transistor-ladder';
import { twinT } from './twin-t';
import { twinTBootstrapped } from './twin-t-bootstrapped';
import { volumePot } from './volume-pot';
import { wahInductor } from './wah-inductor';
import { wahInductorless } from './wah-inductorless';
import { wienNetwork } from './wien-network';

/**
 * Every circuit on offer. A new topology is one file, one line here and one textbook test; everything else follows from
 * this list.
 */
export const TOPOLOGIES: readonly Topology[] = [
  firstOrderBuffered,
  firstOrderPassive,
  firstOrderCoil,
  sallenKeyUnityGain,
  sallenKeyEqualParts,
  sallenKeyChosenGain,
  multipleFeedback,
  multipleFeedbackBandPass,
  sallenKeyBandPass,
  towThomas,
  stateVariable,
  stateVariablePlus,
  impedanceConverter,
  bainter,
  twinTBootstrapped,
  firstOrderAllPass,
  bandPassSubtractor,
  buffer,
  leapfrogLadder,
  sallenKeyThirdOrder,
  integratorWithLeak,
  differentiatorWithLimit,
  shelvingEqualiser,
  gyratorEqualiser,
  coilCapacitor,
  shapedAmplifierNonInverting,
  shapedAmplifierInverting,
  equalSectionsLoaded,
  equalSectionsIsolated,
  leadNetwork,
  lagNetwork,
  leadLagNetwork,
  wienNetwork,
  twinT,
  bridgedT,
  phaseShiftLadder,
  seriesLcr,
  parallelLcr,
  loadedDivider,
  lPad,
  tPad,
  piPad,
  volumePot,
  toneControl,
  otaOnePole,
  otaStateVariable,
  otaSallenKey,
  otaCascade,
  transistorLadder,
  diodeLadder,
  diodeBandPass,
  junctionFetPhaser,
  optocouplerGate,
  otaLeapfrog,
  diodeLegs,
  wahInductor,
  wahInductorless,
  commonEmitter,
  emitterFollower,
  driverPad,
  impedanceCorrection,
  driverNotch,
  baffleStep,
  seriesCrossover,
] as const;

/** Circuits that stand for sections of a plan, and those that ask questions of their own. */
export const SECTION_TOPOLOGIES: readonly SectionTopology[] = TOPOLOGIES.filter((t) => t.role === 'section');
export const NETWORK_TOPOLOGIES: readonly NetworkTopology[] = TOPOLOGIES.filter((t) => t.role === 'network');

const byId = new Map(TOPOLOGIES.map((topology) => [topology.id, topology]));
if (byId.size !== TOPOLOGIES.length) throw new Error('two topologies share an id');

export function findTopology(id: string): Topology | undefined {
  return byId.get(id);
}

/** Throws for an unknown id; documents are checked at the door. */
export function topologyById(id: string): Topology {
  const found = byId.get(id);
  if (!found) throw new Error(`no topology is called ${id}`);
  return found;
}
