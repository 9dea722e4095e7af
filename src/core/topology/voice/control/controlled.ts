import type { BuildContext, NetworkTopology } from '../../kit/define-topology';
import type { Parameters } from '../../kit/parameter';
import { success } from '../../../result';
import type { ControlChain, Outlet } from './control-chain';
import { drawnAmps, drawOutlet, eachAmps, outletParts, outletValues, placeOutlet, type Taken } from './outlet';
import { besideEachOther, withoutSource } from './joined-drawing';

/** How a voice's current is made: by which chain, in which form, for what. */
export interface ChainChoice {
  readonly chain: ControlChain;
  readonly form: string;
  readonly parameters: Parameters;
}

/** What voices call the current that moves them. */
export const CURRENT = 'I1';

/** A voice's outlet with the names of the OTAs that take their current there. */
function outletOf(base: NetworkTopology, form: string): Outlet | null {
  const outlet = base.outlet?.(form);
  if (!outlet) return null;
  return {
    ...outlet,
    names: outlet.kind === 'pins' ? Array.from({ length: outlet.count }, (_, k) => `U${k + 1}`) : [],
  };
}

/**
 * A voice with what makes its current: one circuit, whose parts are the voice's and the chain's. The current is no part
 * any more but what the chain comes to; the voice's own formulas find it among the values under its old name.
 */
export function controlled(
  base: NetworkTopology,
  { chain, form: chainForm, parameters }: ChainChoice,
): NetworkTopology {
  const outlet = (form: string): Outlet => {
    const found = outletOf(base, form);
    if (!found) throw new Error(`${base.id} takes no control current`);
    return found;
  };
  return {
    ...base,
    supplied: true,
    opAmps: (form) => base.opAmps(form) + chain.opAmps,
    cautions: [...base.cautions, ...chain.cautions],
    sources: [...base.sources, ...chain.sources],
    parts: (form) => [
      ...base.parts(form).filter((p) => p.name !== CURRENT),
      ...chain.parts(chainForm),
      ...outletParts(outlet(form)),
    ],
    design(wanted, form, context) {
      const voice = base.design(wanted, form, context);
      if (!voice.ok) return voice;
      const { [CURRENT]: each, ...rest } = voice.value;
      const drawn = drawnAmps(outlet(form), each);
      return success({
        ...rest,
        ...chain.design(parameters, chainForm, drawn, context),
        ...outletValues(outlet(form), drawn, context),
        [CURRENT]: each,
      });
    },
    controlAmps: (form, parts) => eachAmps(outlet(form), chain.amps(chainForm, parts)),
    working: (form, parts, given) => [...base.working(form, parts, given), ...chain.working(chainForm, parts)],
    build(context) {
      const taken: Taken = { otas: [], currents: [] };
      const drawn = context.node('cv-drawn');
      base.build(recording(context, taken));
      const own = inFormOf(context, chainForm);
      chain.build(own, drawn);
      placeOutlet(own, outlet(context.form), drawn, taken);
    },
    drawing(form, parts) {
      const voice = withoutSource(base.drawing(form, parts), CURRENT);
      const labels = voice.ports.map((p) => p.label).filter((label) => label.startsWith(CURRENT));
      const first = chain.draw(chainForm);
      const second = drawOutlet(outlet(form), [CURRENT, ...labels.filter((label) => label !== CURRENT)]);
      return besideEachOther(voice, [first, second]);
    },
  };
}

/** A context with the lazily named nodes of another: rails are made when they are asked for. */
const inFormOf = (context: BuildContext, form: string): BuildContext =>
  Object.defineProperty(Object.create(context) as BuildContext, 'form', { value: form });

function recording(context: BuildContext, { otas, currents }: Taken): BuildContext {
  return Object.defineProperties(Object.create(context) as BuildContext, {
    ota: {
      value: (name: string, plus: string, minus: string, out: string) => otas.push({ name, plus, minus, out }),
    },
    current: { value: (_name: string, from: string, to: string) => currents.push({ from, to }) },
  });
}
