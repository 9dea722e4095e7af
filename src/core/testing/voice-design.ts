import { createDesign, createNetwork } from '../design/making/create';
import { demoDesigns } from '../design/demo/demo';
import type { Design, Stage } from '../design/document/schema';
import { designStage } from '../design/stages/stage-design';
import { must } from '../result';
import type { NetworkTopology } from '../topology/kit/define-topology';

let made = 0;
export const makeId = () => `v${made++}`;
export const base = createDesign('voice', () => [], makeId);
export const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;

export function designWith(
  topology: NetworkTopology,
  parameters: Record<string, number>,
  patch: Stage['parts'] = {},
  device = 'ideal',
): Design {
  const { stage } = createNetwork(topology, makeId, { parameters });
  const exact = must(designStage(stage, null, base));
  const parts = Object.fromEntries(
    exact.parts
      .filter((p) => !p.spec.given)
      .map((p) => [p.spec.name, { use: { kind: 'single' as const, values: [p.exact] } }]),
  );
  return {
    ...base,
    brief: { ...base.brief, source: { name: 's', ohm: 0 }, load: { name: 'l', ohm: null } },
    variants: base.variants.map((v) => ({
      ...v,
      controls: [{ id: 'cv', name: 'CV', kind: 'cv' as const, position: 0.5, taper: 'linear' as const }],
      ways: v.ways.map((way) => ({
        ...way,
        stages: [
          {
            ...stage,
            device,
            parts: {
              ...parts,
              I1: { control: { kind: 'exponential' as const, control: 'cv', octaves: 8, scaleErrorPct: 0 } },
              ...patch,
            },
          },
        ],
      })),
    })),
  };
}
