import type { Variant } from './schema';
import type { Setting } from './setting-schema';

/** How a variant stands now. */
export function settingOf(variant: Variant): Setting {
  const stages = variant.ways.flatMap((way) => way.stages);
  const { listening } = variant;
  return {
    positions: Object.fromEntries(variant.controls.map((c) => [c.id, c.position])),
    outputs: Object.fromEntries(stages.filter((s) => s.output !== '').map((s) => [s.id, s.output])),
    modes: Object.fromEntries(stages.filter((s) => s.mode !== '').map((s) => [s.id, s.mode])),
    ...(variant.join === 'acoustic'
      ? { polarities: Object.fromEntries(variant.ways.map((way) => [way.id, way.polarity])) }
      : {}),
    ...(variant.join === 'acoustic' && listening ? { acrossDeg: listening.acrossDeg, upDeg: listening.upDeg } : {}),
  };
}

/** The variant as it stood: what is no longer there is passed over. */
export function atSetting(variant: Variant, setting: Setting): Variant {
  const { positions, outputs, modes, polarities, acrossDeg, upDeg } = setting;
  return {
    ...variant,
    controls: variant.controls.map((c) => ({ ...c, position: positions[c.id] ?? c.position })),
    ways: variant.ways.map((way) => ({
      ...way,
      polarity: polarities?.[way.id] ?? way.polarity,
      stages: way.stages.map((s) => ({ ...s, output: outputs[s.id] ?? s.output, mode: modes[s.id] ?? s.mode })),
    })),
    ...(variant.listening
      ? {
          listening: {
            ...variant.listening,
            acrossDeg: acrossDeg ?? variant.listening.acrossDeg,
            upDeg: upDeg ?? variant.listening.upDeg,
          },
        }
      : {}),
  };
}
