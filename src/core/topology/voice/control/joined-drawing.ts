import { LEAD, RAILS, type Drawing, type Point } from '../../kit/drawing';
import type { Sketch } from '../../kit/drawing-blocks';

const same = ([ax, ay]: Point, [bx, by]: Point): boolean => Math.abs(ax - bx) < 1e-6 && Math.abs(ay - by) < 1e-6;
const isEnd = (wire: readonly Point[], at: Point): boolean => same(wire[0], at) || same(wire[wire.length - 1], at);

/**
 * A drawing without the source of its control current: what led from it to a rail or to ground goes with it, and its
 * other end becomes a port of its name.
 */
export function withoutSource(drawing: Drawing, name: string): Drawing {
  const source = drawing.parts.find((p) => p.part === name);
  if (!source) return drawing;
  const [x, y] = source.at;
  const ends: Point[] = source.vertical
    ? [
        [x, y - LEAD],
        [x, y + LEAD],
      ]
    : [
        [x - LEAD, y],
        [x + LEAD, y],
      ];
  const wires = new Set(drawing.wires);
  const grounds = new Set(drawing.grounds);
  const ports = new Set(drawing.ports);
  const left = ends.filter((end) => {
    // Follow the wires from here as long as nothing else is on them.
    const reached: Point[] = [end];
    const followed = new Set<readonly Point[]>();
    for (let i = 0; i < reached.length; i++)
      for (const wire of wires)
        if (!followed.has(wire) && isEnd(wire, reached[i])) {
          followed.add(wire);
          reached.push(same(wire[0], reached[i]) ? wire[wire.length - 1] : wire[0]);
        }
    const at = (point: Point) => reached.some((r) => same(r, point));
    const alone =
      reached.every((r) => r === end || drawing.dots.every((d) => !same(d, r))) &&
      !drawing.parts.some((p) => p !== source && partEnds(p).some(at));
    const foot =
      [...grounds].some(at) ||
      [...ports].some((p) => at(p.at) && ((RAILS as readonly string[]).includes(p.label) || p.net === undefined));
    if (!alone || !foot) return true;
    followed.forEach((wire) => wires.delete(wire));
    grounds.forEach((g) => at(g) && grounds.delete(g));
    ports.forEach((p) => at(p.at) && ports.delete(p));
    return false;
  });
  return {
    ...drawing,
    parts: drawing.parts.filter((p) => p !== source),
    wires: [...wires],
    grounds: [...grounds],
    ports: [...ports, ...left.map((at) => ({ label: name, at, side: 'right' as const }))],
  };
}

function partEnds({ at: [x, y], vertical }: Drawing['parts'][number]): Point[] {
  const [dx, dy] = vertical ? [0, LEAD] : [LEAD, 0];
  return [
    [x - dx, y - dy],
    [x + dx, y + dy],
  ];
}

/** Rows under a drawing, joined by the names of nets. */
export function besideEachOther(
  above: Drawing,
  rows: readonly { readonly pieces: Sketch; readonly height: number }[],
): Drawing {
  let y = above.height + 3;
  const all = {
    parts: [...above.parts],
    opAmps: [...above.opAmps],
    devices: [...(above.devices ?? [])],
    wires: [...above.wires],
    dots: [...above.dots],
    grounds: [...above.grounds],
    ports: [...above.ports],
  };
  for (const { pieces, height } of rows) {
    const down = ([px, py]: Point): Point => [px, py + y];
    const moved = <T extends { readonly at: Point }>(placed: T): T => ({ ...placed, at: down(placed.at) });
    all.parts.push(...pieces.parts.map(moved));
    all.opAmps.push(...pieces.opAmps.map(moved));
    all.devices.push(...pieces.devices.map(moved));
    all.ports.push(...pieces.ports.map(moved));
    all.wires.push(...pieces.wires.map((wire) => wire.map(down)));
    all.dots.push(...pieces.dots.map(down));
    all.grounds.push(...pieces.grounds.map(down));
    y += height;
  }
  const right = Math.max(above.width, ...all.wires.flat().map(([px]) => px + 3));
  return { ...above, ...all, width: right, height: y };
}
