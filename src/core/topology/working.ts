import { formatQuantity } from '../units/quantity';

/** How figures are set in the working. */
export const format = {
  hertz: (value: number) => formatQuantity(value, 'frequency', { digits: 5 }),
  ohm: (value: number) => formatQuantity(value, 'resistance'),
  farad: (value: number) => formatQuantity(value, 'capacitance'),
  henry: (value: number) => formatQuantity(value, 'inductance'),
  ratio: (value: number) => formatQuantity(value, 'ratio', { digits: 4 }),
};
