/** A coordinate of a drawing, to a tenth of a pixel. */
export const tenth = (pixels: number): string => pixels.toFixed(1);
