import type { Design, Variant } from '../../design/document/schema';
import { formatQuantity } from '../../units/quantity';

type Brief = Design['brief'];

export const variantWords = ({ name, label }: Pick<Variant, 'name' | 'label'>): string =>
  `Variant ${name}${label ? `, ${label}` : ''}`;

export const supplyWords = ({ supply: { kind, volts } }: Pick<Brief, 'supply'>): string =>
  `Supply ${kind === 'dual' ? '± ' : ''}${formatQuantity(volts, 'voltage')}`;

export const loadWords = ({ load: { ohm } }: Pick<Brief, 'load'>): string =>
  ohm === null ? 'open' : formatQuantity(ohm, 'resistance');
