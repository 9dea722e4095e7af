import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { compiledRunner } from '../../analysis/sound/sound';
import { cellOhmOf } from '../../circuit/elements/optocoupler';
import { success, type Result } from '../../result';
import { builtVariant, restOfSource } from '../reading/built-variant';

/**
 * What the cells of optocouplers do when their lamps are lit for a while, at the current they have now, and put out.
 */
const gateRequest = requestOf('gate-response', {
  ...ofVariant,
  gateS: z.number(),
  /**
   * The lamp's current rises in a straight line for so long, s; after the gate it falls away with this time constant,
   * s; 0: at once.
   */
  attackS: z.number().optional(),
  decayS: z.number().optional(),
});
export type GateRequest = z.infer<typeof gateRequest>;

export interface GateResponse {
  /** From the moment the lamps are lit, s. */
  readonly timeS: Float64Array;
  readonly cells: readonly CellResponse[];
}

export interface CellResponse {
  /** As the drawing names it. */
  readonly name: string;
  readonly ohm: Float64Array;
  readonly litOhm: number;
  /**
   * From the lamp's being lit until the cell is within a tenth of where it goes; null where the gate is too short for
   * that.
   */
  readonly openS: number | null;
  /** From the lamp's being put out until the cell has ten times its resistance; null where it has not in that time. */
  readonly closeS: number | null;
}

const RATE_HZ = 8000;
const BEFORE_S = 0.005;
const AFTER_S = 1.2;
const TENFOLD = 10;
const NEARLY = 1.1;

/** Null where no lamp lights anything. Fails as the design does, or with `no-such-variant`. */
export function runGateResponse({
  design,
  variantId,
  gateS,
  attackS = 0,
  decayS = 0,
}: GateRequest): Result<GateResponse | null> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { live, netlist } = built.value;
  const cells = netlist.elements.filter((e) => e.definition.kind === 'optocoupler');
  if (!live || cells.length === 0) return success(null);
  const { circuit } = live;
  const wanted = cells.map((e) => circuit.structure.nodeOf(e.nodes[4]) ?? -1);
  // Dark to begin with: the lamps' sources are put out, and the circuit rests so.
  const lamps = new Set(netlist.elements.filter((e) => e.definition.kind === 'current-source').map((e) => e.name));
  const dark = {
    ...circuit,
    sources: new Map(
      [...(circuit.sources ?? [])].map(([name, source]) => [name, lamps.has(name) ? { ...source, dc: 0 } : source]),
    ),
  };
  const made = compiledRunner(dark, { sampleRateHz: RATE_HZ, wanted });
  if (!made.ok) return made;
  const runner = made.value;
  const [on, off] = [Math.round(BEFORE_S * RATE_HZ), Math.round((BEFORE_S + gateS) * RATE_HZ)];
  const count = off + Math.round(AFTER_S * RATE_HZ);
  const risen = (t: number): number => (attackS > 0 ? Math.min(1, t / attackS) : 1);
  const envelope = (t: number): number =>
    t < 0 ? 0 : t < gateS ? risen(t) : decayS > 0 ? risen(gateS) * Math.exp(-(t - gateS) / decayS) : 0;
  const inputs = runner.sources.map((name) => {
    const dc = restOfSource(circuit, name);
    return Float64Array.from({ length: count }, (_, i) => (lamps.has(name) ? dc * envelope((i - on) / RATE_HZ) : dc));
  });
  const lights = cells.map(() => new Float64Array(count));
  runner.process(inputs, lights, count);
  return success({
    timeS: Float64Array.from({ length: count }, (_, i) => (i - on) / RATE_HZ),
    cells: cells.map(({ name, values }, c) => {
      const ohmOf = (light: number) => cellOhmOf(values, light);
      const ohm = lights[c].map(ohmOf);
      const litOhm = ohmOf(live.rest[wanted[c]]);
      const opened = ohm.findIndex((v, i) => i >= on && v < NEARLY * litOhm);
      const closed = ohm.findIndex((v, i) => i >= off && v > TENFOLD * ohm[off - 1]);
      return {
        name: name.replace(/^[^.]*\./, ''),
        ohm,
        litOhm,
        openS: opened >= 0 && opened < off ? (opened - on) / RATE_HZ : null,
        closeS: closed >= 0 ? (closed - off) / RATE_HZ : null,
      };
    }),
  });
}

export const gateJob = defineJob(gateRequest, (request) => runGateResponse(request));
