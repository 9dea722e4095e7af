import { findTopology } from '../../topology/index';
import type { PartChoice, Stage } from '../document/schema';
import { specsOf } from './stage-design';

/**
 * What was decided about a stage's parts that still holds in another circuit or another form of it: of a part of the
 * same name and kind that does the same, or that is held. What a control turns goes with a section's part that does the
 * same; a circuit with questions of its own brings its own controls.
 */
export function keptParts(
  stage: Pick<Stage, 'topology' | 'parts'>,
  form: string,
  toTopology: string,
  toForm: string,
): Record<string, PartChoice> {
  const [from, to] = [findTopology(stage.topology), findTopology(toTopology)];
  if (!from || !to) return {};
  const [before, after] = [specsOf(from, form), specsOf(to, toForm)].map(
    (specs) => new Map(specs.map((spec) => [spec.name, spec])),
  );
  return Object.fromEntries(
    Object.entries(stage.parts).flatMap(([name, choice]) => {
      const [was, is] = [before.get(name), after.get(name)];
      const same = was && is && was.kind === is.kind && (was.role === is.role || choice.pinned);
      const keepsControl = from.role === 'section' && to.role === 'section' && was?.role === is?.role;
      return same && (!choice.control || keepsControl) ? [[name, choice]] : [];
    }),
  );
}
