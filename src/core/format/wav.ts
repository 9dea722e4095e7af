/** Sound as a WAV file: one channel, 16 bits (the RIFF form, IBM and Microsoft 1991). Samples beyond ±1 are held at the ends. */
export function writeWav(samples: Float32Array, rateHz: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(44 + 2 * samples.length);
  const view = new DataView(bytes.buffer);
  const text = (at: number, letters: string) => [...letters].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, 36 + 2 * samples.length, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rateHz, true);
  view.setUint32(28, 2 * rateHz, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  text(36, 'data');
  view.setUint32(40, 2 * samples.length, true);
  samples.forEach((v, i) => view.setInt16(44 + 2 * i, Math.round(32767 * Math.min(1, Math.max(-1, v))), true));
  return bytes;
}
