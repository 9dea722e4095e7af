import { withUsualChain } from '@/core/design/making/control-chain';
import { createNetwork } from '@/core/design/making/create';
import { rotationFor } from '@/core/device/potentiometer';
import type { Control, PartControl } from '@/core/design/document/schema';
import { stageTopology } from '@/core/design/stages/stage-topology';
import type { Photocell } from '@/core/device/photocell';
import { topologyById } from '@/core/topology/index';
import { currentVariantOf, currentWayOf, forgetControls, stageOf, type Edit } from './edits';
import { newId } from '../new-id';

const MOST_CONTROLS = 16;
export type HeldBy =
  | Omit<Extract<PartControl, { kind: 'rheostat' }>, 'control'>
  | Omit<Extract<PartControl, { kind: 'switch' }>, 'control'>;

/** Adds a circuit with parameters of its own at the end of the path, with controls for its pots. */
export const addNetwork =
  (topologyId: string, form?: string): Edit =>
  (draft) => {
    const topology = topologyById(topologyId);
    if (topology.role !== 'network') return;
    const loadOhm = draft.brief.load.ohm;
    const made = createNetwork(topology, newId, {
      form,
      parameters: topology.parameters.some((p) => p.name === 'loadOhm') && loadOhm !== null ? { loadOhm } : {},
    });
    const { stage, controls } = withUsualChain(made, draft, newId);
    currentWayOf(draft).stages.push(stage);
    currentVariantOf(draft).controls.push(...controls);
  };

export const setParameter =
  (stageId: string, name: string, value: number): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    if (stage?.target.kind === 'network') stage.target.parameters[name] = value;
  };

/** An attenuator and the gain that makes up for it, at once. */
export const setPadAndMakeUp =
  (stageId: string, padDb: number, maker: { stageId: string; gain: number } | null): Edit =>
  (draft) => {
    setParameter(stageId, 'padDb', padDb)(draft);
    if (maker) setParameter(maker.stageId, 'gain', Math.max(0.5, Math.min(200, maker.gain)))(draft);
  };

/** What faces the lamps of optocouplers; null: a usual one. */
export const setPhotocell =
  (cell: Photocell | null): Edit =>
  (draft) => {
    if (cell) draft.preferences.photocell = { ...cell, points: cell.points.map(([amps, ohm]) => [amps, ohm]) };
    else delete draft.preferences.photocell;
  };

/** Another form of the same circuit; part choices that still have a place stay. */
export const setForm =
  (stageId: string, form: string): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    const topology = stage && stageTopology(stage, currentWayOf(draft));
    if (!stage || topology?.role !== 'network' || !topology.modes.includes(form)) return;
    const named = new Set(topology.parts(form).map((p) => p.name));
    stage.mode = form;
    stage.parts = Object.fromEntries(Object.entries(stage.parts).filter(([name]) => named.has(name)));
    forgetControls(draft);
  };

/**
 * Puts a resistor on a pot or a switch of its own, or on a control there is (another gang of it). @param startOhm what
 * one of its own is turned to: the value that it takes the place of.
 */
export const holdPart =
  (stageId: string, part: string, held: HeldBy, control?: string, startOhm?: number): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    const variant = currentVariantOf(draft);
    if (!stage || (control === undefined && variant.controls.length >= MOST_CONTROLS)) return;
    const id = control ?? newId();
    if (control === undefined)
      variant.controls.push({
        id,
        name: `${part} of ${stageTopology(stage, currentWayOf(draft)).shortName}`,
        kind: held.kind === 'switch' ? 'switch' : 'pot',
        position: startOf(held, startOhm),
        taper: 'linear',
      });
    stage.parts[part] = { ...stage.parts[part], control: { ...held, control: id } };
    forgetControls(draft);
  };

/** Where a pot or switch begins: at the value that was there, or half way. */
function startOf(held: HeldBy, startOhm: number | undefined): number {
  if (startOhm === undefined) return HALF_WAY;
  if (held.kind === 'rheostat')
    return Math.max(0, Math.min(1, rotationFor('linear', (startOhm - held.endOhm) / held.totalOhm)));
  const off = (ohm: number) => Math.abs(Math.log(ohm / startOhm));
  const nearest = held.ohms.reduce((best, ohm, i) => (off(ohm) < off(held.ohms[best]) ? i : best), 0);
  return nearest / (held.ohms.length - 1);
}
const HALF_WAY = 0.5;

export const changeHeld =
  (
    stageId: string,
    part: string,
    patch: Partial<{
      totalOhm: number;
      endOhm: number;
      mismatchPct: number;
      ohms: number[];
      octaves: number;
      scaleErrorPct: number;
    }>,
  ): Edit =>
  (draft) => {
    const held = stageOf(draft, stageId)?.parts[part]?.control;
    if (held) Object.assign(held, patch);
  };

export const releasePart =
  (stageId: string, part: string): Edit =>
  (draft) => {
    const choice = stageOf(draft, stageId)?.parts[part];
    if (!choice || choice.control?.kind === 'wiper') return;
    delete choice.control;
    forgetControls(draft);
  };

export const setControl =
  (controlId: string, patch: Partial<Pick<Control, 'position' | 'taper' | 'name'>>): Edit =>
  (draft) => {
    Object.assign(currentVariantOf(draft).controls.find((c) => c.id === controlId) ?? {}, patch);
  };

/** An emitter follower, its bias bootstrapped, into what it is to drive. */
export const insertFollower =
  (joint: number, loadOhm: number, emitterVolts: number): Edit =>
  (draft) => {
    const topology = topologyById('emitter-follower');
    if (topology.role !== 'network') return;
    currentWayOf(draft).stages.splice(
      joint,
      0,
      createNetwork(topology, newId, { form: 'bootstrapped', parameters: { loadOhm, emitterVolts } }).stage,
    );
  };
