import { useMemo } from 'react';
import type { CatalogueEntry } from '@/core/catalogue/catalogue';
import { schematicShapes } from '@/core/format/schematic-shapes';
import { logGrid } from '@/core/math/grid';
import type { PlanResponse } from '@/core/filter/plan-sections';
import { drawingBounds } from '@/core/topology/kit/drawing';
import type { Topology } from '@/core/topology/kit/define-topology';
import { Glyph } from '@/ui/glyph';
import styles from './gallery.module.css';

const WIDTH = 108;
const HEIGHT = 64;

/** What an entry looks like: its circuit in outline, or the curves that are wanted. */
export function Face({ entry: { adds, outlines } }: { entry: CatalogueEntry }) {
  if (adds?.kind === 'circuit') return <Sketch topology={adds.topology} />;
  return (
    <span className={styles.galleryFace} aria-hidden="true">
      {outlines.map(({ response, at }) => (
        <Glyph
          key={`${response} ${at}`}
          freqHz={FREQ_HZ}
          levelDb={FREQ_HZ.map((f) => CURVES[response](f / at))}
          width={WIDTH}
          height={HEIGHT}
          className="gallery-curve"
        />
      ))}
    </span>
  );
}

/** A circuit's drawing without its lettering. */
function Sketch({ topology }: { topology: Topology }) {
  const sketch = useMemo(() => {
    const form = topology.role === 'section' ? topology.responses[0] : topology.modes[0];
    const drawing = topology.drawing(form as never, {});
    const { x0, y0, x1, y1 } = drawingBounds(drawing);
    return {
      box: `${x0 - 1} ${y0 - 1} ${x1 - x0 + 2} ${y1 - y0 + 2}`,
      shapes: schematicShapes(drawing, { values: {}, resistorSymbol: 'box', leftOut: {} }),
    };
  }, [topology]);
  return (
    <svg
      className={`${styles.galleryFace} schematic`}
      viewBox={sketch.box}
      aria-hidden="true"
      preserveAspectRatio="xMidYMid meet"
    >
      {sketch.shapes.map((shape, i) =>
        shape.kind === 'path' ? (
          <path key={i} d={shape.d} className="line" />
        ) : shape.kind === 'dot' ? (
          <circle key={i} cx={shape.at[0]} cy={shape.at[1]} r={0.28} className="node" />
        ) : null,
      )}
    </svg>
  );
}

const FREQ_HZ = logGrid(0.05, 20, 61);
const level = (square: number) => 10 * Math.log10(Math.max(1e-4, square));
const bell = (f: number) => 1 / (1 + (2 * (f - 1 / f)) ** 2);
/** Second-order responses about 1, dB; of an all-pass, its phase on the same paper. */
const CURVES: Readonly<Record<PlanResponse, (f: number) => number>> = {
  lowpass: (f) => level(1 / (1 + f ** 4)),
  highpass: (f) => level(f ** 4 / (1 + f ** 4)),
  bandpass: (f) => level(bell(f)),
  bandstop: (f) => level(1 - bell(f)),
  allpass: (f) => -25 * Math.atan(f ** 1.5),
};
