'use client';

import { Switch } from 'antd';
import { useState } from 'react';
import { drawingOf } from '@/core/design/stages/stage-drawing';
import { calledIn } from '@/core/design/stages/designators';
import type { Stage } from '@/core/design/document/schema';
import type { FormCurve, Forms as FormsAnswer } from '@/core/jobs/voice/forms';
import { findTopology } from '@/core/topology/index';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { Schematic } from '@/ui/schematic';
import { edit, useDesign } from '@/store/document';
import { setForm } from '@/store/edits/network-edits';
import { gridFor } from '@/store/questions/axis';
import { useDesignJob } from '@/store/use-design-job';
import { useSelectedStage } from '@/store/use-selected-stage';
import { decibelAxis, hertzAxis, SmallChart } from '@/ui/chart/small-chart';
import styles from './voice.module.css';

const POINTS = 161;
const DIFFERENCE_DB = 40;

/**
 * A circuit's switch positions over one another, each one's reduced circuit, and what both combined are against one
 * after the other.
 */
export function Forms() {
  const { stage } = useSelectedStage();
  const topology = stage && findTopology(stage.topology);
  const design = useDesign((d) => d);
  const resistorSymbol = useDesign((d) => d.preferences.resistorSymbol);
  const [matched, setMatched] = useState(true);
  const [looked, setLooked] = useState<string | null>(null);
  const several = topology?.role === 'network' && topology.modes.length > 1;
  const { fromHz, toHz } = gridFor(design);
  const forms = useDesignJob(
    'forms',
    several && stage ? { stageId: stage.id, grid: { fromHz, toHz, points: POINTS } } : null,
  );
  if (!several || !stage || !topology)
    return (
      <section className="panel">
        <p className="reason quiet">The stage in hand has one form only. Choose another on the path.</p>
      </section>
    );
  if (!forms || !forms.forms.every((f) => topology.modes.includes(f.form))) return null;
  const shown = forms.forms.map((f) => ({
    name: f.form,
    x: forms.freqHz,
    y: matched ? f.levelDb.map((v) => v + f.matchDb) : f.levelDb,
  }));
  const looking = forms.forms.find((f) => f.form === looked) ?? forms.forms.find((f) => f.form === stage.mode);
  return (
    <section className="panel" aria-label="Forms" data-testid="forms">
      <header>
        <h2>Its forms over one another</h2>
        <label className={styles.switchLabel}>
          levels matched <Switch size="small" checked={matched} onChange={setMatched} aria-label="Levels matched" />
        </label>
      </header>
      <SmallChart
        testId="forms-chart"
        lines={shown}
        x={hertzAxis(fromHz, toHz)}
        y={decibelAxis(shown.map((s) => s.y))}
        title={matched ? 'dB, matched at the highest' : 'dB'}
        xUnit="Hz"
      />
      <FormsTable forms={forms} stage={stage} looked={looking?.form ?? null} onLook={setLooked} />
      {looking?.neglected && <Neglected form={looking.form} neglected={looking.neglected} />}
      {looking && (
        <Schematic
          drawing={drawingOf(topology, looking.form, looking.parts)}
          values={looking.parts}
          leftOut={{}}
          resistorSymbol={resistorSymbol}
          title={`Reduced circuit: ${looking.form}`}
        />
      )}
      {forms.combined && <Combined freqHz={forms.freqHz} combined={forms.combined} />}
    </section>
  );
}

function FormsTable({
  forms: { forms },
  stage,
  looked,
  onLook,
}: {
  forms: FormsAnswer;
  stage: Stage;
  looked: string | null;
  onLook: (form: string) => void;
}) {
  return (
    <table className="sheet">
      <thead>
        <tr>
          <th>form</th>
          <th className="number">highest</th>
          <th className="number">to match</th>
          <th className="number">parts</th>
          {forms.some((f) => f.neglected) && (
            <th className="number" title="how far off the level is, at most of what is heard, with them left out">
              by hand
            </th>
          )}
          <th />
        </tr>
      </thead>
      <tbody>
        {forms.map((f) => (
          <tr key={f.form} className={f.form === stage.mode ? 'current' : undefined}>
            <td>
              <button type="button" className="link" aria-pressed={looked === f.form} onClick={() => onLook(f.form)}>
                {f.form}
              </button>
            </td>
            <td className="number">
              {formatSigned(
                f.levelDb.reduce((m, v) => Math.max(m, v), -Infinity),
                'decibel',
                1,
              )}
            </td>
            <td className="number">{formatSigned(f.matchDb, 'decibel', 1)}</td>
            <td className="number">{Object.keys(f.parts).length}</td>
            {f.neglected && (
              <td className="number">
                {formatSigned(f.neglected.worstDb, 'decibel', 1)} at{' '}
                {formatQuantity(f.neglected.atHz, 'frequency', { digits: 2 })}
              </td>
            )}
            <td>
              {f.form === stage.mode ? (
                <span className="live">on the desk</span>
              ) : (
                <button type="button" className="link" onClick={() => edit(setForm(stage.id, f.form))}>
                  take it
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What the textbook's formulas leave out, and what that costs in this form. */
function Neglected({ form, neglected }: { form: string; neglected: NonNullable<FormCurve['neglected']> }) {
  const { facts } = useSelectedStage();
  const { parts, worstDb, atHz } = neglected;
  return (
    <p className="reason" data-testid="neglected">
      By hand {parts.map((part) => calledIn(facts, part)).join(' and ')} are left out. In the form {form} that makes the
      level <b className="figures">{formatSigned(worstDb, 'decibel', 1)}</b> off at{' '}
      {formatQuantity(atHz, 'frequency', { digits: 3 })}, the most of what is heard; all that is shown has them in.
    </p>
  );
}

/** One form against two others in a row. */
function Combined({ freqHz, combined }: { freqHz: Float64Array; combined: NonNullable<FormsAnswer['combined']> }) {
  const shown = combined.differenceDb.map((v) => Math.max(-DIFFERENCE_DB, Math.min(DIFFERENCE_DB, v)));
  return (
    <>
      <h3>
        {combined.whole} against {combined.of.join(' then ')}
      </h3>
      <SmallChart
        testId="combined-chart"
        height={140}
        lines={[
          {
            name: 'difference',
            x: freqHz,
            y: shown,
          },
        ]}
        x={hertzAxis(freqHz[0], freqHz[freqHz.length - 1])}
        y={decibelAxis([shown], 80)}
        title="difference, dB, both matched at their highest"
        xUnit="Hz"
      />
      <p className="reason" data-testid="combined">
        At once it lies <b className="figures">{formatSigned(combined.worstDb, 'decibel', 1)}</b> from the two in a row
        at {formatQuantity(combined.atHz, 'frequency', { digits: 3 })}, where it differs most in what is heard: they
        share their cells, so each loads the other.
      </p>
    </>
  );
}
