'use client';

import { calledIn } from '@/core/design/stages/designators';
import { Button, Select } from 'antd';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import type { Coupling } from '@/core/design/document/schema';
import { couplingOf, leastDistanceOf } from '@/core/parts/coil-coupling';
import { gradeById, TURNED, windingOf, type Turned } from '@/core/parts/grades';
import { QuantityInput } from '@/ui/quantity-input';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { addCoupling, changeCoupling, removeCoupling } from '@/store/edits/speaker-edits';
import { useDesignJob } from '@/store/use-design-job';
import type { CoilEffect, Moved } from '@/core/jobs/loudspeaker/coil-effects';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import styles from './speaker.module.css';

interface Coil {
  readonly key: string;
  readonly stage: string;
  readonly part: string;
  readonly name: string;
  readonly henry: number;
}

const AIR = { wireMm: 1, core: 1 };

/** Coils near one another: how far apart, how turned, how much that couples; the curves have it in them. */
export function CoilsPanel() {
  const variant = useDesign(currentVariantOf);
  const ways = useAnswer(ACOUSTICS, (a) => a.ways);
  const effects = useDesignJob('coil-effects', (variant.couplings ?? []).length > 0 ? {} : null);
  if (variant.join !== 'acoustic' || !ways) return null;
  const coils: Coil[] = ways.flatMap((w) =>
    w.stages
      .filter((s) => !s.bypassed)
      .flatMap((s) =>
        s.parts
          .filter((p) => p.kind === 'inductor' && !p.leftOut)
          .map((p) => ({
            key: `${s.id} ${p.name}`,
            stage: s.id,
            part: p.name,
            name: `${w.name} ${calledIn(s, p.name)}`,
            henry: p.chosen,
          })),
      ),
  );
  if (coils.length < 2) return null;
  return (
    <section className="panel" aria-label="Coils near one another" data-testid="coils-panel">
      <header>
        <h2>Coils near one another</h2>
        <Button
          size="small"
          type="text"
          icon={<PlusOutlined />}
          onClick={() =>
            edit(
              addCoupling({
                first: placeOf(coils[0]),
                second: placeOf(coils[coils.length - 1]),
                distanceM: 0.06,
                turned: 'side by side',
              }),
            )
          }
        >
          pair
        </Button>
      </header>
      {(variant.couplings ?? []).length === 0 && (
        <p className="reason quiet">
          Coils that stand close see one another’s field. Add a pair with its distance, and the curves show what it
          does.
        </p>
      )}
      {(variant.couplings ?? []).map((coupling) => (
        <CoilPair
          key={coupling.id}
          coupling={coupling}
          coils={coils}
          effect={effects?.find((e) => e.couplingId === coupling.id)}
        />
      ))}
    </section>
  );
}

const placeOf = ({ stage, part }: Coil) => ({ stage, part });

interface CoilPairProps {
  readonly coupling: Coupling;
  readonly coils: readonly Coil[];
  readonly effect: CoilEffect | undefined;
}

/** How two coils couple where they stand, and how near one another their bodies let them. */
function useCoupling({ coupling, coils }: Pick<CoilPairProps, 'coupling' | 'coils'>) {
  const grade = useDesign((d) => d.preferences.grades?.inductor);
  const made = gradeById(grade);
  const winding = ({ henry }: Coil) => ({ henry, winding: windingOf(henry, made?.kind === 'inductor' ? made : AIR) });
  const find = ({ stage, part }: Coupling['first']) => coils.find((c) => c.stage === stage && c.part === part);
  const [a, b] = [find(coupling.first), find(coupling.second)];
  const leastM = a && b ? leastDistanceOf(winding(a).winding, winding(b).winding, coupling.turned) : 0;
  const k = a && b ? couplingOf(winding(a), winding(b), coupling.distanceM, coupling.turned) : 0;
  return { a, b, leastM, k };
}

/** Two coils: how far apart, how turned, and what that does. */
function CoilPair({ coupling, coils, effect }: CoilPairProps) {
  const { a, b, leastM, k } = useCoupling({ coupling, coils });
  const change = (patch: Partial<Coupling>) => edit(changeCoupling(coupling.id, patch));
  const which = {
    size: 'small',
    options: coils.map((c) => ({ value: c.key, label: c.name })),
    popupMatchSelectWidth: false,
  } as const;
  const byKey = (key: string) => placeOf(coils.find((c) => c.key === key)!);
  return (
    <div className={styles.coilRow} data-testid="coupling">
      <Select {...which} aria-label="First coil" value={a?.key} onChange={(key) => change({ first: byKey(key) })} />
      <Select {...which} aria-label="Second coil" value={b?.key} onChange={(key) => change({ second: byKey(key) })} />
      <QuantityInput
        label="cm apart"
        hideLabel
        small
        kind="ratio"
        step={0.5}
        value={Number((100 * coupling.distanceM).toFixed(1))}
        min={Math.max(0.5, Math.ceil(1000 * leastM) / 10)}
        max={200}
        onChange={(v) => v !== null && change({ distanceM: v / 100 })}
      />
      <Select
        size="small"
        aria-label="How they are turned"
        value={coupling.turned}
        options={TURNED.map((value) => ({ value, label: value }))}
        popupMatchSelectWidth={false}
        onChange={(turned: Turned) => change({ turned })}
      />
      <span className={`figures${Math.abs(k) > 0.02 ? ' warn' : ''}`} title="coupling">
        {formatFixed(100 * k, 1)}&#8239;%
      </span>
      {coupling.distanceM < leastM && (
        <span className="bad" role="status">
          their bodies touch at {formatFixed(100 * leastM, 1)} cm; reckoned as if they did
        </span>
      )}
      {coupling.turned !== 'one stood up' && (
        <Button size="small" onClick={() => change({ turned: 'one stood up' })}>
          Stand one up
        </Button>
      )}
      <Button
        size="small"
        type="text"
        icon={<DeleteOutlined />}
        aria-label="Forget this pair"
        onClick={() => edit(removeCoupling(coupling.id))}
      />
      <EffectWords effect={effect} />
    </div>
  );
}

const moved = ({ db, freqHz }: Moved): string =>
  `${formatSigned(db, 'decibel', 2)} at ${formatQuantity(freqHz, 'frequency', { digits: 2 })}`;

/** The most that a pair moves each way and the sum. */
function EffectWords({ effect }: { effect: CoilEffect | undefined }) {
  if (!effect) return null;
  return (
    <p className={`reason ${styles.coilEffect}`} data-testid="coil-effect">
      Moves the sum by {moved(effect.sum)} at most
      {effect.ways.map((way) => (
        <span key={way.wayId}>
          ; {way.name} by {moved(way)}
        </span>
      ))}
      .
    </p>
  );
}
