import { createDesign, createNetwork } from '../src/core/design/making/create';
import { LIVE_BLOCK, LiveSound } from '../src/core/jobs/sound/live-sound';
import { RATE_HZ } from '../src/core/jobs/sound/rate';
import {} from '../src/core/jobs/sound/sound-source';
import { must } from '../src/core/result';
import { NETWORK_TOPOLOGIES } from '../src/core/topology/index';

const SECONDS = 1;

/**
 * How fast every voltage-controlled circuit sounds, with real op-amps and transistors: times real time, and at how many
 * steps a sample.
 */
export function measureVoices(): Record<string, string | number> {
  const figures: Record<string, string> = {};
  for (const topology of NETWORK_TOPOLOGIES.filter((t) => t.family === 'voltage-controlled')) {
    let n = 0;
    const makeId = () => `v${n++}`;
    const base = createDesign('voice', () => [], makeId);
    const { stage, controls } = createNetwork(topology, makeId);
    const design = {
      ...base,
      variants: base.variants.map((v) => ({
        ...v,
        controls,
        ways: v.ways.map((way) => ({ ...way, stages: [stage] })),
      })),
    };
    const sound = must(
      LiveSound.start({ design, variantId: base.currentVariant, source: 'saw', hz: 110, volts: 1 }, () =>
        performance.now(),
      ),
    );
    const blocks = Math.round((SECONDS * RATE_HZ) / LIVE_BLOCK);
    const start = performance.now();
    for (let i = 0; i < blocks; i++) sound.next();
    const took = (performance.now() - start) / 1000;
    figures[topology.name] =
      `${((blocks * LIVE_BLOCK) / RATE_HZ / took).toFixed(1)} × real time, ${sound.oversampled} steps a ` +
      `sample, ${sound.unsettled} unsettled`;
  }
  return figures;
}
