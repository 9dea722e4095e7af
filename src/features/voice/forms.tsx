'use client';

import { Switch } from 'antd';
import { useState } from 'react';
import { drawingOf } from '@/core/design/stages/stage-design';
import { findTopology } from '@/core/topology/index';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { Schematic } from '@/ui/schematic';
import { edit, useDesign } from '@/store/document';
import { setForm } from '@/store/edits/network-edits';
import { gridFor } from '@/store/questions/axis';
import { useDesignJob } from '@/store/use-design-job';
import { useSelectedStage } from '@/store/use-selected-stage';
import { decibelAxis, hertzAxis, SmallChart } from '@/ui/chart/small-chart';

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
        <label className="switch-label">
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
      <table className="sheet">
        <thead>
          <tr>
            <th>form</th>
            <th className="number">highest</th>
            <th className="number">to match</th>
            <th className="number">parts</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {forms.forms.map((f) => (
            <tr key={f.form} className={f.form === stage.mode ? 'current' : undefined}>
              <td>
                <button
                  type="button"
                  className="link"
                  aria-pressed={looking?.form === f.form}
                  onClick={() => setLooked(f.form)}
                >
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
      {looking && (
        <Schematic
          drawing={drawingOf(topology, looking.form, looking.parts)}
          values={looking.parts}
          leftOut={{}}
          resistorSymbol={resistorSymbol}
          title={`Reduced circuit: ${looking.form}`}
        />
      )}
      {forms.combined && (
        <>
          <h3>
            {forms.combined.whole} against {forms.combined.of.join(' then ')}
          </h3>
          <SmallChart
            testId="combined-chart"
            height={140}
            lines={[
              {
                name: 'difference',
                x: forms.freqHz,
                y: forms.combined.differenceDb.map((v) => Math.max(-DIFFERENCE_DB, Math.min(DIFFERENCE_DB, v))),
              },
            ]}
            x={hertzAxis(fromHz, toHz)}
            y={decibelAxis(
              [forms.combined.differenceDb.map((v) => Math.max(-DIFFERENCE_DB, Math.min(DIFFERENCE_DB, v)))],
              80,
            )}
            title="difference, dB, both matched at their highest"
            xUnit="Hz"
          />
          <p className="reason" data-testid="combined">
            At once it lies <b className="figures">{formatSigned(forms.combined.worstDb, 'decibel', 1)}</b> from the two
            in a row at {formatQuantity(forms.combined.atHz, 'frequency', { digits: 3 })}, where it differs most in what
            is heard: they share their cells, so each loads the other.
          </p>
        </>
      )}
    </section>
  );
}
