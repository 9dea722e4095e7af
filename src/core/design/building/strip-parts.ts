import { assignPackages, inPackageOrder, opAmpLeads, otaLeads, type Lead } from '../../parts/packages';
import type { StripPart } from '../../parts/strip-board';
import { success, type Result } from '../../result';
import type { Design, Variant } from '../document/schema';
import { compileBuilt, netsOf, type Pin } from './nets';

/** What a strip board is planned from: parts with their nets, op-amps with their supply, and what leaves the board. */
export function stripParts(
  design: Design,
  variant: Variant,
): Result<{ parts: StripPart[]; leaving: { label: string; net: string }[] }> {
  const compiled = compileBuilt(design, variant);
  if (!compiled.ok) return compiled;
  const { pins, named, rails } = netsOf(compiled.value, variant, design);
  const leaving = pins
    .filter(({ mount }) => mount === 'off-board')
    .map(({ reference, pin, net }) => ({ label: `${reference} ${pin}`, net }));
  const placed = new Map<string, { mount: Exclude<Pin['mount'], 'off-board'>; leads: Lead[] }>();
  for (const { reference, mount, pin, net } of pins) {
    if (mount === 'off-board') continue;
    const own = placed.get(reference) ?? { mount, leads: [] };
    own.leads.push({ name: pin, net });
    placed.set(reference, own);
  }
  const amplifiers: { reference: string; name: string }[] = [];
  const parts: StripPart[] = [];
  for (const [reference, { mount, leads }] of placed) {
    if (mount === 'op-amp') amplifiers.push({ reference, name: 'op-amp' });
    else if (mount !== 'ota') parts.push({ reference, kind: mount, pins: inPackageOrder(leads) });
    else {
      // Without a chain its control current comes in at a pin that the circuit has no node for.
      if (!leads.some((lead) => lead.name === 'control'))
        leaving.push({ label: `${reference} control`, net: `${reference} control` });
      parts.push({ reference, kind: 'package', pins: otaLeads(reference, leads, rails) });
    }
  }
  for (const { name, units } of assignPackages(amplifiers, design.preferences.opAmpPackage ?? 2))
    parts.push({
      reference: name,
      kind: 'package',
      pins: opAmpLeads(name, units, (reference) => placed.get(reference)?.leads ?? [], rails),
    });
  const nets = new Set(parts.flatMap((p) => p.pins.flatMap((pin) => (pin ? [pin.net] : []))));
  leaving.push(...[...named].filter((net) => nets.has(net)).map((net) => ({ label: net, net })));
  return success({ parts, leaving });
}
