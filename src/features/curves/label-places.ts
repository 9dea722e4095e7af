/** A label looking for room next to its point. */
export interface WantedLabel {
  readonly key: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** On which side it is looked for first. */
  readonly side?: 'left' | 'right';
}
export interface LabelPlace {
  readonly key: string;
  /** Left end of the text and its middle line. */
  readonly x: number;
  readonly y: number;
  /** It lies on no other label and within the area: one that does not is better left out. */
  readonly free: boolean;
}
interface Area {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const GAP = 11;

/**
 * Puts each label beside its point where it meets neither the edge, nor an earlier label, nor a curve if there is such
 * a place; first come, first served.
 */
export function placeLabels(
  labels: readonly WantedLabel[],
  area: Area,
  inked: (x: number) => readonly number[],
): LabelPlace[] {
  const placed: { x0: number; x1: number; y0: number; y1: number }[] = [];
  return labels.map(({ key, x, y, width, height, side: preferred }) => {
    const candidates: [number, number][] = [];
    for (const dy of [0, -1.2, 1.2, -2.4, 2.4, -3.6, 3.6])
      for (const side of preferred === 'left' ? [-1, 1] : [1, -1])
        candidates.push([side > 0 ? x + GAP : x - GAP - width, y + dy * height]);
    let best = candidates[0];
    let bestCost = Infinity;
    candidates.forEach(([left, middle], i) => {
      const box = { x0: left, x1: left + width, y0: middle - height / 2, y1: middle + height / 2 };
      let cost = i * 0.3;
      if (
        box.x0 < area.x + 2 ||
        box.x1 > area.x + area.width - 2 ||
        box.y0 < area.y + 18 ||
        box.y1 > area.y + area.height - 2
      )
        cost += 100;
      cost +=
        50 *
        placed.filter((p) => p.x0 < box.x1 + 4 && box.x0 < p.x1 + 4 && p.y0 < box.y1 + 1 && box.y0 < p.y1 + 1).length;
      // Nor over another's point.
      cost +=
        30 * labels.filter((l) => l.x > box.x0 - 4 && l.x < box.x1 + 4 && l.y > box.y0 - 3 && l.y < box.y1 + 3).length;
      for (let at = 0; at <= 4; at++)
        cost += 4 * inked(left + (at * width) / 4).filter((ink) => ink > box.y0 - 2 && ink < box.y1 + 2).length;
      if (cost < bestCost) [best, bestCost] = [[left, middle], cost];
    });
    const box = { x0: best[0], x1: best[0] + width, y0: best[1] - height / 2, y1: best[1] + height / 2 };
    const inside =
      box.x0 >= area.x && box.x1 <= area.x + area.width && box.y0 >= area.y && box.y1 <= area.y + area.height;
    const free = inside && !placed.some((p) => p.x0 < box.x1 && box.x0 < p.x1 && p.y0 < box.y1 && box.y0 < p.y1);
    if (free) placed.push(box);
    return { key, x: best[0], y: best[1], free };
  });
}
