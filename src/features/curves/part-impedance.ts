import type { DeskPart } from '@/core/jobs/desk/desk-types';

/** Size of a part's impedance, ohm. */
export function sizeOf({ kind, chosen }: Pick<DeskPart, 'kind' | 'chosen'>, freqHz: number): number {
  if (kind === 'capacitor') return 1 / (2 * Math.PI * freqHz * chosen);
  return kind === 'inductor' ? 2 * Math.PI * freqHz * chosen : chosen;
}

/** Where two parts are of one size, Hz; null where they always or never are. */
export function meetsAt(a: Pick<DeskPart, 'kind' | 'chosen'>, b: Pick<DeskPart, 'kind' | 'chosen'>): number | null {
  const kinds: string[] = [a, b].map((p) => (p.kind === 'potentiometer' ? 'resistor' : p.kind));
  if (kinds[0] === kinds[1]) return null;
  const of = (kind: string) => [a, b][kinds.indexOf(kind)]?.chosen;
  const [r, c, l] = [of('resistor'), of('capacitor'), of('inductor')];
  if (r && c) return 1 / (2 * Math.PI * r * c);
  if (r && l) return r / (2 * Math.PI * l);
  return l && c ? 1 / (2 * Math.PI * Math.sqrt(l * c)) : null;
}
