/** Reads a table of rotation and share, per cent, two numbers a line. Null, with what is wrong, when it is none. */
export function readTaper(text: string): { points: [number, number][] } | { wrong: string } {
  const lines = text
    .split(/\n|;/)
    .map((line) => line.trim())
    .filter(Boolean);
  const points: [number, number][] = [];
  for (const [i, line] of lines.entries()) {
    const numbers = line.split(/[\s,]+/).map(Number);
    if (numbers.length !== 2 || !numbers.every((v) => v >= 0 && v <= 100))
      return { wrong: `Line ${i + 1}, “${line}”, is not a rotation and a share, both 0 to 100 per cent.` };
    const [x, y] = numbers.map((v) => v / 100);
    const last = points.at(-1);
    if (last && (x <= last[0] || y < last[1]))
      return { wrong: `Line ${i + 1}: rotations rise from line to line, and shares never fall.` };
    points.push([x, y]);
  }
  return points.length < 2
    ? { wrong: 'Two lines at least: a rotation and a share of the track each, in per cent.' }
    : { points };
}
