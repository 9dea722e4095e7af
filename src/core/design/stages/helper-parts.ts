import { neighbours } from '../../parts/preferred';
import type { Design, Way } from '../document/schema';
import type { DesignedStage } from './stage-design';

/** A part that filters do not need on paper: there, missing, or left to what is connected. */
export interface HelperPart {
  readonly code:
    'dc-path' | 'dc-path-left-to-source' | 'output-protection' | 'output-bare' | 'output-coupling' | 'output-bleed';
  readonly state: 'there' | 'missing' | 'depends';
  readonly data: Readonly<Record<string, string | number>>;
}

/**
 * A resistor from an op-amp's input to ground or reference: by role, every topology says which of its parts that is.
 */
const isDcPath = (role: string): boolean => /DC path/.test(role);
/** Coupling capacitors are a decade below what must pass, and a bleed takes well under a second with them. */
const LOWEST_HZ = 20;
const BLEED_OHM = 100e3;
export const PROTECTION_OHM = 100;

/** Helper parts of a way as it is built: the input's DC path, what protects and couples the output, what bleeds it. */
export function helperParts(design: Design, way: Way, stages: readonly DesignedStage[]): HelperPart[] {
  const live = stages.filter((s) => !s.stage.bypassed);
  const [first] = live;
  const last = live[live.length - 1];
  const parts: HelperPart[] = [];
  if (first && first.opAmps > 0) {
    const path = first.parts.find((p) => p.spec.kind === 'resistor' && !p.choice.leftOut && isDcPath(p.spec.role));
    parts.push(
      path
        ? { code: 'dc-path', state: 'there', data: { part: path.spec.name, ohm: path.chosen } }
        : { code: 'dc-path-left-to-source', state: 'depends', data: { source: design.brief.source.name, ohm: 1e6 } },
    );
  }
  if (!last || last.opAmps === 0) return parts;
  parts.push(
    way.outputResistor
      ? { code: 'output-protection', state: 'there', data: { ohm: way.outputResistor.ohm } }
      : { code: 'output-bare', state: 'missing', data: { ohm: PROTECTION_OHM, device: last.device?.name ?? 'op-amp' } },
  );
  const { supply, load } = design.brief;
  if (supply.kind === 'single') {
    const loadOhm = load.ohm ?? BLEED_OHM;
    const farad = neighbours(10 / (2 * Math.PI * LOWEST_HZ * loadOhm), 'E6').above;
    parts.push(
      { code: 'output-coupling', state: 'missing', data: { volts: supply.volts / 2, farad, ohm: loadOhm } },
      { code: 'output-bleed', state: 'missing', data: { ohm: BLEED_OHM, farad } },
    );
  }
  return parts;
}
