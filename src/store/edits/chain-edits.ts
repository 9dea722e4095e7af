import { withControlChain, withoutControlChain } from '@/core/design/making/control-chain';
import { topologyById } from '@/core/topology/index';
import { findChain } from '@/core/topology/voice/control/index';
import { currentVariantOf, forgetControls, stageOf, type Edit } from './edits';
import { newId } from '../new-id';

/** How far a current without a chain is moved, from end to end, until something else is said. */
const OCTAVES = 8;

/** What makes a voice's control current: a chain of its own, or something that is not on the board (null). */
export const setControlChain =
  (stageId: string, chainId: string | null, form?: string): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    const topology = stage && topologyById(stage.topology);
    if (!stage || topology?.role !== 'network' || !topology.outlet) return;
    const chain = chainId === null ? undefined : findChain(chainId);
    const bare = withoutControlChain(stage, topology, newId, OCTAVES);
    const made = chain ? withControlChain(bare.stage, chain, draft, newId, { form }) : null;
    if (made && !made.ok) return;
    const { stage: next, controls } = made?.value ?? bare;
    if (!chain) delete stage.controlledBy;
    Object.assign(stage, next);
    currentVariantOf(draft).controls.push(...controls);
    forgetControls(draft);
  };

/** Another number that its chain is asked for; trimmers are set anew, since what they trim is another. */
export const changeChain =
  (stageId: string, parameters: Readonly<Record<string, number>>): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    const chain = stage?.controlledBy && findChain(stage.controlledBy.circuit);
    if (!stage?.controlledBy || !chain) return;
    const { form } = stage.controlledBy;
    const asked = { ...stage.controlledBy.parameters, ...parameters };
    const made = withControlChain(stage, chain, draft, newId, { form, parameters: asked });
    if (!made.ok) return;
    stage.controlledBy.parameters = asked;
    for (const { part } of chain.trimmed) stage.parts[part] = { ...stage.parts[part], ...made.value.stage.parts[part] };
  };

/** Puts trimmers where they belong, ohm by part: what is fixed in them stays. */
export const setTrimmers =
  (
    stageId: string,
    ohms: readonly { readonly part: string; readonly ohm: number; readonly fixedOhm: number }[],
  ): Edit =>
  (draft) => {
    const stage = stageOf(draft, stageId);
    for (const { part, ohm, fixedOhm } of ohms)
      if (stage?.parts[part]) stage.parts[part].use = { kind: 'series', values: [fixedOhm, ohm - fixedOhm] };
  };

/** What a jack's control runs between, V; it stays at the volts where it stands, as far as they are in it. */
export const setJackRange =
  (stageId: string, part: string, range: { readonly fromVolts: number; readonly toVolts: number }): Edit =>
  (draft) => {
    const held = stageOf(draft, stageId)?.parts[part]?.control;
    const control = held && currentVariantOf(draft).controls.find((c) => c.id === held.control);
    if (held?.kind !== 'voltage' || !control || !(range.toVolts > range.fromVolts)) return;
    const volts = held.fromVolts + (held.toVolts - held.fromVolts) * control.position;
    Object.assign(held, range);
    control.position = Math.min(1, Math.max(0, (volts - range.fromVolts) / (range.toVolts - range.fromVolts)));
  };
