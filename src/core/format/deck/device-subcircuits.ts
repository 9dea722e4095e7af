/**
 * Devices that a deck has no card for, as subcircuits of those it has: what they do at rest and to a small signal is
 * theirs, figure by figure.
 */
export interface Subcircuit {
  readonly name: string;
  readonly lines: readonly string[];
}

/** Collectors of the pair within an OTA stand so high that nothing at its inputs reaches them, V. */
const COLLECTOR_VOLTS = 30;

/**
 * The long-tailed pair without base currents: its collectors' difference is I tanh(v/2Vt) (P. Gray and R. Meyer,
 * Analysis and Design of Analog Integrated Circuits, 3.5).
 */
const PAIR: readonly string[] = [
  `Vhigh high 0 DC ${COLLECTOR_VOLTS} AC 0 0`,
  'Vone high one DC 0 AC 0 0',
  'Vtwo high two DC 0 AC 0 0',
  'Qone one p tail m_pair',
  'Qtwo two m tail m_pair',
  'Fone ref out Vone 1',
  'Ftwo out ref Vtwo 1',
  '.model m_pair NPN(IS=1e-16 BF=1e9 BR=1e9 NF=1 NR=1)',
];

/** On a current that is given. */
export const OTA_ON_CURRENT: Subcircuit = {
  name: 'ota_on_current',
  lines: ['.subckt ota_on_current p m out ref params: amps=1e-6', ...PAIR, 'Itail tail 0 DC {amps} AC 0 0', '.ends'],
};

/** With its control pin, two junctions over the minus rail. */
export const OTA_WITH_PIN: Subcircuit = {
  name: 'ota_with_pin',
  lines: [
    '.subckt ota_with_pin p m out pin minus ref params: is=1e-14 n=2',
    ...PAIR,
    'Dpin pin under m_pin',
    'Vpin under minus DC 0 AC 0 0',
    'Ftail tail 0 Vpin 1',
    '.model m_pin D(IS={is} N={n})',
    '.ends',
  ],
};

/** A lamp and the cell that faces it, as far as it is lit at rest: it follows its lamp too slowly for any signal. */
export const LIT_CELL: Subcircuit = {
  name: 'lit_cell',
  lines: [
    '.subckt lit_cell lampp lampm a b params: is=1e-18 n=2 ohm=1e6',
    'Dlamp lampp lampm m_lamp',
    'Rcell a b {ohm}',
    '.model m_lamp D(IS={is} N={n})',
    '.ends',
  ],
};
