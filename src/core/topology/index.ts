import { baffleStep } from './loudspeaker/baffle-step';
import { bainter } from './op-amp/bainter';
import { bandPassSubtractor } from './op-amp/band-pass-subtractor';
import { bridgedT } from './network/bridged-t';
import { buffer } from './op-amp/buffer';
import { coilCapacitor } from './loudspeaker/coil-capacitor';
import { commonEmitter } from './voice/stage/common-emitter';
import type { NetworkTopology, SectionTopology, Topology } from './kit/define-topology';
import { differentiatorWithLimit } from './op-amp/differentiator-with-limit';
import { driverNotch } from './loudspeaker/driver-notch';
import { driverPad } from './loudspeaker/driver-pad';
import { equalSectionsIsolated } from './network/equal-sections-isolated';
import { equalSectionsLoaded } from './network/equal-sections-loaded';
import { firstOrderAllPass } from './op-amp/first-order-all-pass';
import { firstOrderBuffered } from './op-amp/first-order-buffered';
import { firstOrderCoil } from './network/first-order-coil';
import { firstOrderPassive } from './network/first-order-passive';
import { gyratorEqualiser } from './op-amp/gyrator-equaliser';
import { impedanceCorrection } from './loudspeaker/impedance-correction';
import { impedanceConverter } from './op-amp/impedance-converter';
import { integratorWithLeak } from './op-amp/integrator-with-leak';
import { lPad } from './network/l-pad';
import { leapfrogLadder } from './op-amp/leapfrog-ladder';
import { lagNetwork } from './network/lag-network';
import { leadLagNetwork } from './network/lead-lag-network';
import { leadNetwork } from './network/lead-network';
import { loadedDivider } from './network/loaded-divider';
import { multipleFeedback } from './op-amp/multiple-feedback';
import { multipleFeedbackBandPass } from './op-amp/multiple-feedback-band-pass';
import { optocouplerGate } from './voice/optocoupler-gate';
import { otaCascade } from './voice/ota-cascade';
import { otaOnePole } from './voice/ota-one-pole';
import { otaSallenKey } from './voice/ota-sallen-key';
import { diodeBandPass } from './voice/diode-band-pass';
import { diodeLadder } from './voice/diode-ladder';
import { diodeLegs } from './voice/diode-legs';
import { emitterFollower } from './voice/stage/emitter-follower';
import { junctionFetPhaser } from './voice/junction-fet-phaser';
import { otaLeapfrog } from './voice/ota-leapfrog';
import { otaStateVariable } from './voice/ota-state-variable';
import { parallelLcr } from './network/parallel-lcr';
import { phaseShiftLadder } from './network/phase-shift-ladder';
import { piPad } from './network/pi-pad';
import { sallenKeyBandPass } from './op-amp/sallen-key-band-pass';
import { sallenKeyChosenGain } from './op-amp/sallen-key-chosen-gain';
import { sallenKeyEqualParts } from './op-amp/sallen-key-equal-parts';
import { sallenKeyThirdOrder } from './op-amp/sallen-key-third-order';
import { sallenKeyUnityGain } from './op-amp/sallen-key-unity-gain';
import { seriesCrossover } from './loudspeaker/series-crossover';
import { seriesLcr } from './network/series-lcr';
import { shapedAmplifierInverting } from './op-amp/shaped-amplifier-inverting';
import { shapedAmplifierNonInverting } from './op-amp/shaped-amplifier-non-inverting';
import { shelvingEqualiser } from './op-amp/shelving-equaliser';
import { stateVariable } from './op-amp/state-variable';
import { stateVariablePlus } from './op-amp/state-variable-plus';
import { tPad } from './network/t-pad';
import { toneControl } from './network/tone-control';
import { towThomas } from './op-amp/tow-thomas';
import { transistorLadder } from './voice/transistor-ladder';
import { twinT } from './network/twin-t';
import { twinTBootstrapped } from './op-amp/twin-t-bootstrapped';
import { volumePot } from './network/volume-pot';
import { wahInductor } from './voice/wah-inductor';
import { wahInductorless } from './voice/wah-inductorless';
import { wienNetwork } from './network/wien-network';

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
