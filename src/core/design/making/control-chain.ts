import { nearestPreferred, neighbours } from '../../parts/preferred';
import { failure, success, type Result } from '../../result';
import type { NetworkTopology, PartSpec } from '../../topology/kit/define-topology';
import type { ControlChain } from '../../topology/voice/control/control-chain';
import { CURRENT } from '../../topology/voice/control/controlled';
import { topologyById } from '../../topology/index';
import { usualChain } from '../../topology/voice/control/index';
import { trimmedPart } from './bank';
import type { MakeId } from './create';
import type { Control, PartChoice, Stage } from '../document/schema';
import { designStage, type Bench } from '../stages/stage-design';

/** What a wiper leaves at either end of a knob of a control chain, ohm. */
const END_OHM = 10;
/** How far either way a trimmer of a chain reaches, as a share of the resistor. */
const REACH = 0.15;

/** Where a control that runs between two voltages stands at so many. */
const positionAt = (volts: number, { fromVolts, toVolts }: { fromVolts: number; toVolts: number }): number =>
  Math.min(1, Math.max(0, (volts - fromVolts) / (toVolts - fromVolts)));

const named = ({ role }: PartSpec): string => role[0].toUpperCase() + role.slice(1);

/**
 * A voice whose current is made by a chain of its own: knob, jacks and converter, with controls for what is turned or
 * plugged in; nothing at the jacks, the knob half way. What sets its scale stands on trimmers, set right.
 * Fails as the stage's design does, or with `no-control-current` where the circuit takes none.
 */
export function withControlChain(
  stage: Stage,
  chain: ControlChain,
  bench: Bench,
  makeId: MakeId,
  given: { readonly form?: string; readonly parameters?: Readonly<Record<string, number>> } = {},
): Result<{ readonly stage: Stage; readonly controls: Control[] }> {
  const topology = topologyById(stage.topology);
  if (topology.role !== 'network' || !topology.outlet) return failure('no-control-current', { stage: stage.id });
  const form = given.form ?? chain.forms[0];
  const controls: Control[] = [];
  const held = (spec: PartSpec): PartChoice => {
    const jack = chain.jacks[spec.name];
    const id = makeId();
    controls.push({
      id,
      name: named(spec),
      kind: jack ? 'cv' : 'pot',
      position: jack ? positionAt(0, jack) : chain.closed.includes(spec.name) ? 0 : 0.5,
      taper: 'linear',
    });
    return {
      control: jack
        ? { kind: 'voltage', control: id, ...jack }
        : { kind: 'wiper', control: id, endOhm: END_OHM, mismatchPct: 0 },
    };
  };
  const turned = chain
    .parts(form)
    .filter(({ kind }) => kind === 'voltage' || kind === 'potentiometer')
    // The knob first: it is what the hand goes to.
    .sort((a, b) => Number(b.name === chain.knob) - Number(a.name === chain.knob));
  const { [CURRENT]: _own, ...parts } = stage.parts;
  const parameters = Object.fromEntries(chain.parameters.map((p) => [p.name, given.parameters?.[p.name] ?? p.initial]));
  const made: Stage = {
    ...stage,
    controlledBy: { circuit: chain.id, form, parameters },
    parts: { ...parts, ...Object.fromEntries(turned.map((spec) => [spec.name, held(spec)])) },
  };
  const designed = designStage(made, null, bench, controls);
  if (!designed.ok) return designed;
  const trimmed = chain.trimmed.flatMap(({ part: name }) => {
    const part = designed.value.parts.find((p) => p.spec.name === name);
    return part ? [[name, onTrimmer(part.exact)] as const] : [];
  });
  return success({ stage: { ...made, parts: { ...made.parts, ...Object.fromEntries(trimmed) } }, controls });
}

/** A resistor as one that can be had and a trimmer, which stands where it is right. */
function onTrimmer(ohm: number): PartChoice {
  const fixed = neighbours(ohm * (1 - REACH), 'E24').below;
  return trimmedPart(fixed, nearestPreferred(2 * (ohm - fixed), 'E6'), ohm - fixed);
}

/** A voice that takes its current from outside again; controls that only its chain had are `gone`. */
export function withoutControlChain(
  stage: Stage,
  topology: NetworkTopology,
  makeId: MakeId,
  octaves: number,
): { readonly stage: Stage; readonly controls: Control[]; readonly gone: readonly string[] } {
  const { controlledBy: _chain, ...bare } = stage;
  const own = new Set(topology.parts(stage.mode).map((p) => p.name));
  const kept = Object.entries(stage.parts).filter(([name]) => own.has(name));
  const gone = Object.entries(stage.parts).flatMap(([name, { control }]) =>
    own.has(name) || !control ? [] : [control.control],
  );
  const id = makeId();
  const spec = topology.parts(stage.mode).find((p) => p.name === CURRENT);
  return {
    stage: {
      ...bare,
      parts: {
        ...Object.fromEntries(kept),
        [CURRENT]: { control: { kind: 'exponential', control: id, octaves, scaleErrorPct: 0 } },
      },
    },
    controls: [{ id, name: spec ? named(spec) : CURRENT, kind: 'cv', position: 0.5, taper: 'linear' }],
    gone,
  };
}

/** What was made for a path, with the chain that such a voice is usually moved by, where it takes a current. */
export function withUsualChain(
  made: { readonly stage: Stage; readonly controls: readonly Control[] },
  bench: Bench,
  makeId: MakeId,
): { readonly stage: Stage; readonly controls: readonly Control[] } {
  const topology = topologyById(made.stage.topology);
  const chain = topology.role === 'network' ? usualChain(topology, made.stage.mode) : null;
  if (!chain) return made;
  const own = made.stage.parts[CURRENT]?.control?.control;
  const chained = withControlChain(made.stage, chain, bench, makeId);
  return chained.ok
    ? {
        stage: chained.value.stage,
        controls: [...made.controls.filter((c) => c.id !== own), ...chained.value.controls],
      }
    : made;
}
