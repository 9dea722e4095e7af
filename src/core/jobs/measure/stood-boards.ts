import equal from 'fast-deep-equal';
import { AS_DESIGNED, type Board } from '../../design/compiled/board';
import type { Design } from '../../design/document/schema';
import { atSetting, settingOf } from '../../design/document/setting';
import type { Setting } from '../../design/document/setting-schema';
import type { Result } from '../../result';
import { builtVariant, type BuiltVariant } from '../reading/built-variant';

/** A variant's circuit as its controls, outputs and modes stood, sound or with an op-amp that does nothing. */
export class StoodBoards {
  private readonly known = new Map<string, Result<BuiltVariant>>();
  private readonly settings = new Map<BuiltVariant, Setting | undefined>();

  constructor(
    private readonly design: Design,
    private readonly variantId: string,
  ) {}

  at(asked: Setting | undefined, dead: string | null = null): Result<BuiltVariant> {
    const now = this.design.variants.find((v) => v.id === this.variantId);
    const setting = asked && now && equal(settingOf(now), asked) ? undefined : asked;
    const key = JSON.stringify([setting, dead]);
    const known = this.known.get(key);
    if (known) return known;
    const { design, variantId } = this;
    const variants = setting
      ? design.variants.map((v) => (v.id === variantId ? atSetting(v, setting) : v))
      : design.variants;
    const board: Board | undefined = dead ? { ...AS_DESIGNED, dead: new Set([dead]) } : undefined;
    const built = builtVariant({ ...design, variants }, variantId, { board });
    this.known.set(key, built);
    if (built.ok) this.settings.set(built.value, setting);
    return built;
  }

  /** The same board, as it stood, with an op-amp that does nothing; null where it has no answer. */
  without(built: BuiltVariant, dead: string): BuiltVariant | null {
    const found = this.at(this.settings.get(built), dead);
    return found.ok ? found.value : null;
  }
}
