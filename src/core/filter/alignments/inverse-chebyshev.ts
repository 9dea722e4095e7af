import { complex, divide } from '../../math/complex';
import { sectionsOfPoles } from '../section';
import {
  halfPowerOmega,
  HIGHEST_ORDER,
  ordersUpTo,
  scaleSections,
  withZeros,
  type Alignment,
} from './define-alignment';

/**
 * Flat below, equal ripples at −attenuation above: the reciprocals of a Chebyshev's poles, zeros at 1/cos((2k −
 * 1)π/2n); stop band from 1 rad/s (R. Schaumann, H. Xiao and M. Van Valkenburg, Design of Analog Filters, 7.3).
 */
export const inverseChebyshev: Alignment = {
  id: 'inverse-chebyshev',
  name: 'Inverse Chebyshev',
  reason: 'Flat below like a Butterworth, steeper, with notches above.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: false,
  hasAttenuation: true,
  ownCutoff: 'stop-band edge',
  defaultCutoffAt: 'own',
  prototype(order, { attenuationDb = 40, cutoffAt }) {
    const v = Math.asinh(Math.sqrt(10 ** (attenuationDb / 10) - 1)) / order;
    const poles = Array.from({ length: order }, (_, i) => {
      const angle = ((2 * i + 1) * Math.PI) / (2 * order);
      return divide(complex(1), complex(-Math.sinh(v) * Math.sin(angle), Math.cosh(v) * Math.cos(angle)));
    });
    const zeros = Array.from(
      { length: Math.floor(order / 2) },
      (_, i) => 1 / Math.cos(((2 * i + 1) * Math.PI) / (2 * order)),
    );
    const sections = withZeros(sectionsOfPoles(poles), zeros);
    return cutoffAt === 'own' ? sections : scaleSections(sections, 1 / halfPowerOmega(sections));
  },
  dcLevelDb: () => 0,
};
