import { across, down, type Drawing } from '../kit/drawing';

/** The pair with its coil before it, the pedal after it and the capacitor that joins the two. */
export const WAH_INDUCTOR_DRAWING: Drawing = {
  width: 52,
  height: 36,
  parts: [
    across('C1', 'capacitor', 4, 12),
    across('R1', 'resistor', 9.5, 12),
    down('L1', 'inductor', 14, 17, 'right'),
    down('R5', 'resistor', 21, 17, 'right'),
    down('R4', 'resistor', 9, 25),
    down('C3', 'capacitor', 14, 25, 'right'),
    across('R3', 'resistor', 25, 21),
    down('R6', 'resistor', 30.5, 5),
    down('R7', 'resistor', 30.5, 17, 'right'),
    down('R8', 'resistor', 37.5, 25),
    across('C5', 'capacitor', 42, 12),
    across('C4', 'capacitor', 42, 17),
    { ...down('P1', 'potentiometer', 46, 22, 'right'), wiper: 'left' },
    across('C2', 'capacitor', 24, 32),
  ],
  opAmps: [],
  devices: [
    { name: 'Q1', symbol: 'npn', at: [29, 12] },
    { name: 'Q2', symbol: 'npn', at: [36, 8] },
  ],
  wires: [
    [
      [0, 12],
      [2, 12],
    ],
    [
      [6, 12],
      [7.5, 12],
    ],
    [
      [11.5, 12],
      [27, 12],
    ],
    [
      [14, 12],
      [14, 15],
    ],
    [
      [21, 12],
      [21, 15],
    ],
    [
      [14, 19],
      [14, 23],
    ],
    [
      [21, 19],
      [21, 21],
    ],
    [
      [9, 23],
      [9, 21],
      [23, 21],
    ],
    [
      [9, 27],
      [9, 29],
    ],
    [
      [14, 27],
      [14, 29],
    ],
    [
      [27, 21],
      [37.5, 21],
    ],
    [
      [30.5, 2],
      [30.5, 3],
    ],
    [
      [30.5, 7],
      [30.5, 10],
    ],
    [
      [30.5, 8],
      [34, 8],
    ],
    [
      [30.5, 14],
      [30.5, 15],
    ],
    [
      [30.5, 19],
      [30.5, 29],
    ],
    [
      [37.5, 2],
      [37.5, 6],
    ],
    [
      [37.5, 10],
      [37.5, 23],
    ],
    [
      [37.5, 27],
      [37.5, 29],
    ],
    [
      [37.5, 12],
      [40, 12],
    ],
    [
      [44, 12],
      [47, 12],
    ],
    [
      [37.5, 17],
      [40, 17],
    ],
    [
      [44, 17],
      [46, 17],
      [46, 20],
    ],
    [
      [46, 24],
      [46, 29],
    ],
    [
      [44, 22],
      [41, 22],
      [41, 32],
      [26, 32],
    ],
    [
      [22, 32],
      [12.5, 32],
      [12.5, 12],
    ],
    [
      [30.5, 2],
      [41, 2],
    ],
    [
      [9, 29],
      [48, 29],
    ],
  ],
  dots: [
    [12.5, 12],
    [14, 12],
    [21, 12],
    [14, 21],
    [21, 21],
    [30.5, 8],
    [37.5, 12],
    [37.5, 17],
    [37.5, 21],
  ],
  grounds: [],
  ports: [
    { label: 'in', at: [0, 12], side: 'left' },
    { label: 'out', at: [47, 12], side: 'right' },
    { label: '+V', at: [41, 2], side: 'right' },
    { label: '−V', at: [48, 29], side: 'right' },
  ],
  nodes: [
    { node: 'n', at: [26.6, 11.3], side: 'left' },
    { node: 'b', at: [15, 22.4], side: 'right' },
    { node: 'c', at: [29.8, 8.7], side: 'left' },
    { node: 'e', at: [31.2, 15], side: 'right' },
    { node: 'o', at: [38.2, 20.6], side: 'right' },
    { node: 'w', at: [41.4, 23.6], side: 'right' },
  ],
};
