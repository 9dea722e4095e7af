/** How far (pixels) a drawn curve may stray from its points: less than any screen shows. */
const STRAY = 0.1;

const round = (value: number): number => Math.round(value * 10) / 10;

interface Scales {
  readonly x: (value: number) => number;
  readonly y: (value: number) => number;
  readonly area: { readonly y: number; readonly height: number };
}

/**
 * An SVG path through points of rising or falling x, in tenths of a pixel; breaks where a value is not finite. Points
 * that lie on the straight line between their neighbours, to a tenth of a pixel, are left out (a cone of allowed
 * directions is narrowed point by point: K. Reumann and A. Witkam, 1974): flanks and pass bands are straight on these
 * axes, and a short path is drawn sooner.
 */
export function pathOf({ x: scaleX, y: scaleY, area }: Scales, x: ArrayLike<number>, y: ArrayLike<number>): string {
  const [lowest, highest] = [area.y - 2000, area.y + area.height + 2000];
  let d = '';
  let pen = false;
  let anchorX = 0;
  let anchorY = 0;
  let lastX = 0;
  let lastY = 0;
  let [from, to] = [-Infinity, Infinity];
  let waiting = false;
  const draw = (px: number, py: number) => {
    d += `${pen ? 'L' : 'M'}${round(px)} ${round(py)}`;
    pen = true;
    anchorX = px;
    anchorY = py;
    from = -Infinity;
    to = Infinity;
    waiting = false;
  };
  for (let i = 0; i < x.length; i++) {
    const value = scaleY(y[i]);
    if (!Number.isFinite(value)) {
      if (waiting) draw(lastX, lastY);
      pen = false;
      continue;
    }
    const px = scaleX(x[i]);
    const py = Math.min(highest, Math.max(lowest, value));
    if (!pen) draw(px, py);
    else {
      const run = px - anchorX;
      const slope = (py - anchorY) / run;
      if (waiting && !(slope >= from && slope <= to)) {
        draw(lastX, lastY);
        const fresh = px - anchorX;
        from = (py - anchorY) / fresh - STRAY / Math.abs(fresh);
        to = (py - anchorY) / fresh + STRAY / Math.abs(fresh);
      } else {
        from = Math.max(from, slope - STRAY / Math.abs(run));
        to = Math.min(to, slope + STRAY / Math.abs(run));
      }
      waiting = true;
    }
    lastX = px;
    lastY = py;
  }
  if (waiting) draw(lastX, lastY);
  return d;
}
