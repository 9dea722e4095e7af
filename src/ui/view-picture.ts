import { failure, success, type Result } from '@/core/result';

/** What gives a drawing its looks: written into it, since a file has no style sheet. */
const LOOKS = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'opacity',
  'paint-order',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
] as const;

/** Every drawing of a view in its place, as one picture that stands by itself. Null where nothing is drawn. */
export function svgOfView(view: Element): string | null {
  const drawings = [...view.querySelectorAll('svg')].filter((svg) => !svg.parentElement?.closest('svg, button'));
  const room = view.getBoundingClientRect();
  if (drawings.length === 0) return null;
  const placed = drawings.map((svg) => {
    const { left, top, width, height } = svg.getBoundingClientRect();
    const copy = svg.cloneNode(true) as SVGSVGElement;
    const [originals, copies] = [svg, copy].map((root) => [root, ...root.querySelectorAll('*')]);
    copies.forEach((element, i) => {
      const style = getComputedStyle(originals[i]);
      for (const look of LOOKS) {
        const value = style.getPropertyValue(look);
        if (value) element.setAttribute(look, value);
      }
      for (const { name } of [...element.attributes])
        if (/^(class|style|tabindex|role|data-|aria-)/.test(name)) element.removeAttribute(name);
    });
    for (const [name, value] of Object.entries({ x: left - room.left, y: top - room.top, width, height }))
      copy.setAttribute(name, String(Math.round(value)));
    return new XMLSerializer().serializeToString(copy);
  });
  const [width, height] = [Math.ceil(room.width), Math.ceil(room.height)];
  const paper = getComputedStyle(view).getPropertyValue('--card').trim() || 'white';
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">` +
    `<rect width="${width}" height="${height}" fill="${paper}"/>${placed.join('')}</svg>\n`
  );
}

/** Points of the picture for one of the screen’s. */
const SCALE = 2;

/** A drawing as points, twice as fine as on the screen. Fails with `no-picture` where the browser draws none. */
export async function pngOf(svg: string): Promise<Result<Uint8Array<ArrayBuffer>, 'no-picture'>> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  try {
    await image.decode();
  } catch {
    return failure('no-picture');
  }
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [image.width * SCALE, image.height * SCALE];
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  return blob ? success(new Uint8Array(await blob.arrayBuffer())) : failure('no-picture');
}
