import { analyse } from '../src/core/measure/analyse';
import { sweepSamples } from '../src/core/measure/sweep';
import { must } from '../src/core/result';

/** Five minutes of sweeps at 48 kHz, read in a process of its own: what that takes at most, MB, in all. */
const RATE_HZ = 48e3;
const long = new Float64Array(300 * RATE_HZ);
const sweep = must(sweepSamples({ fromHz: 20, toHz: 20e3, seconds: 5, rateHz: RATE_HZ, levelDbfs: -6 }));
for (let at = 12_345; at + sweep.length < long.length; at += 2 * sweep.length) long.set(sweep, at);
const { sweeps } = must(analyse({ samples: long, rateHz: RATE_HZ }, { samples: sweep, rateHz: RATE_HZ }));
console.log(`${sweeps} sweeps averaged; ${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MB at most (under 300)`);
