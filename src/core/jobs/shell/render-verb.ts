import { downsampled, upsampled } from '../../analysis/sound/resample';
import { readWav, writeFloatWav } from '../../format/wav';
import { failure, success, type Result } from '../../result';
import { RUN_THROUGH } from '../job-context';
import { RENDER_OVERSAMPLED, sounding } from '../sound/sounding';
import { openDesign } from './opened-design';

/**
 * A recording through a variant: same rate, same length. Fails as reading, the design and time do, or with
 * `no-such-control`. @param controls positions by name or id, 0 to 1.
 */
export async function renderVerb(
  text: string,
  variantName: string | undefined,
  wav: Uint8Array,
  voltsPerFullScale: number,
  controls: Readonly<Record<string, number>>,
): Promise<Result<Uint8Array>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const read = readWav(wav);
  if (!read.ok) return read;
  const { design, variant } = opened.value;
  const unknown = Object.keys(controls).find((name) => !variant.controls.some((c) => c.name === name || c.id === name));
  if (unknown !== undefined)
    return failure('no-such-control', { control: unknown, controls: variant.controls.map((c) => c.name).join(', ') });
  const turned = {
    ...variant,
    controls: variant.controls.map((c) => ({ ...c, position: controls[c.name] ?? controls[c.id] ?? c.position })),
  };
  const set = { ...design, variants: design.variants.map((v) => (v.id === variant.id ? turned : v)) };
  const { samples, rateHz } = read.value;
  const input = upsampled(samples, RENDER_OVERSAMPLED).map((v) => v * voltsPerFullScale);
  const sounded = await sounding(set, variant.id, input, rateHz * RENDER_OVERSAMPLED, RUN_THROUGH);
  if (!sounded.ok) return sounded;
  const out = downsampled(sounded.value.volts, RENDER_OVERSAMPLED).subarray(0, samples.length);
  return success(
    writeFloatWav(
      Float32Array.from(out, (v) => v / voltsPerFullScale),
      rateHz,
    ),
  );
}
