'use client';

import Link from 'next/link';
import { useEffect, useMemo, useState } from 'react';
import { countingIds } from '@/core/design/making/create';
import { singlePath } from '@/core/design/making/single-path';
import { drawingOf } from '@/core/design/stages/stage-drawing';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { workingOf } from '@/core/jobs/desk/stage-facts';
import type { Topology } from '@/core/topology/kit/define-topology';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { findTopology, TOPOLOGIES } from '@/core/topology/index';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { Formula } from '@/ui/formula';
import { Glyph } from '@/ui/glyph';
import { RoomTop } from '@/ui/palette/room-top';
import { Schematic } from '@/ui/schematic';
import { failureWords } from '@/ui/words/failures';
import { startJob } from '@/workers/job-client';

const GRID = { fromHz: 1, toHz: 1e6, points: 301 };

/** Every form of a circuit as it is designed by default: drawn, valued, worked out, and read from its netlist. */
export function Preview({ id }: { id: string }) {
  const topology = findTopology(id);
  return (
    <div className="shelf">
      <RoomTop says="preview of a circuit, while it is being written" />
      <main className="shelf-room">
        {topology ? (
          <>
            <h1>{topology.name}</h1>
            <p>{topology.reason}</p>
            {(topology.role === 'section' ? topology.responses : topology.modes).map((form) => (
              <Form key={form} topology={topology} form={form} />
            ))}
          </>
        ) : (
          <p className="failure">No circuit is called {id}. Is it in the registry?</p>
        )}
        <h2>Others</h2>
        <p>
          {TOPOLOGIES.map((t) => (
            <Link key={t.id} href={`/preview/${t.id}`} className="preview-link">
              {t.id}{' '}
            </Link>
          ))}
        </p>
      </main>
    </div>
  );
}

function Form({ topology, form }: { topology: Topology; form: string }) {
  const made = useMemo(() => singlePath({ topology: topology.id, form }, countingIds('preview')), [topology, form]);
  const [facts, setFacts] = useState<DeskStage | null>(null);
  const [failed, setFailed] = useState<string | null>(made.ok ? null : failureWords(made));
  useEffect(() => {
    if (!made.ok) return;
    const design = made.value;
    const job = startJob<'desk'>({
      kind: 'desk',
      design,
      variantId: design.currentVariant,
      ghostVariantId: null,
      grid: GRID,
    });
    void job.answer.then((answer) => {
      if (answer.ok) setFacts(answer.value.stages[0]);
      else if (answer.code !== 'cancelled') setFailed(failureWords(answer));
    });
    return () => job.cancel();
  }, [made]);
  return (
    <section className="panel" aria-label={form}>
      <h2>{form}</h2>
      {failed && <p className="failure">{failed}</p>}
      {facts && <Facts topology={topology} facts={facts} />}
    </section>
  );
}

function Facts({ topology, facts }: { topology: Topology; facts: DeskStage }) {
  const values = Object.fromEntries(facts.parts.map((p) => [p.name, p.chosen]));
  const lines = workingOf(topology, facts);
  const closed = topology.role === 'section' && facts.target && topology.closedForm(facts.target.response, values);
  return (
    <>
      <Schematic
        drawing={drawingOf(topology, facts.form, values)}
        values={values}
        leftOut={{}}
        resistorSymbol="box"
        title={`Circuit of ${topology.name}`}
      />
      <Glyph {...facts.glyph} width={320} height={120} />
      {closed && (
        <p className="figures">
          closed form: {formatQuantity(closed.freqHz ?? NaN, 'frequency')}, Q {formatFixed(closed.q ?? NaN, 4)}; from
          the netlist’s poles, real op-amp: {formatQuantity(facts.got.freqHz, 'frequency')}, Q{' '}
          {formatFixed(facts.got.q, 4)}
        </p>
      )}
      <table className="sheet">
        <tbody>
          {facts.parts.map((p) => (
            <tr key={p.name}>
              <td>{p.name}</td>
              <td>{p.role}</td>
              <td className="number">{formatQuantity(p.exact, PART_UNITS[p.kind])}</td>
              <td className="number">{formatQuantity(p.chosen, PART_UNITS[p.kind])}</td>
            </tr>
          ))}
          {facts.network?.parameters.map((p) => (
            <tr key={p.name}>
              <td>{p.name}</td>
              <td>{p.label}</td>
              <td className="number">{formatQuantity(p.wanted, p.kind)}</td>
              <td className="number">{formatQuantity(p.got, p.kind)}</td>
            </tr>
          ))}
          {lines.map(({ says, tex, value }) => (
            <tr key={`${says} ${tex}`}>
              <td colSpan={2}>{says}</td>
              <td>
                <Formula tex={tex} />
              </td>
              <td className="number">{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
