'use client';

import { Button } from 'antd';
import type { Measurement } from '@/core/design/document/schema';
import { formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changeWay } from '@/store/edits/speaker-edits';
import { useDesignJob } from '@/store/use-design-job';

/** Nearer than this is where it is set, m. */
const SAME_M = 0.0015;
const millimetres = (m: number) => formatFixed(1000 * Math.abs(m), 0);

/** How far back each driver sounds from, by a sum that was measured; most surely by the null of one turned over. */
export function Distances({ measurement: { freqHz, levelDb, setting } }: { measurement: Measurement }) {
  const ways = useDesign((d) => currentVariantOf(d).ways);
  const found = useDesignJob('find-distance', { freqHz, levelDb, setting: setting ?? null });
  if (!found) return null;
  const off = found.ways.filter((w) => Math.abs(w.foundM - w.setM) > SAME_M);
  const take = () =>
    edit((draft) => {
      for (const { wayId, foundM } of off) {
        const position = ways.find((w) => w.id === wayId)?.position;
        changeWay(wayId, { position: { acrossM: 0, upM: 0, ...position, backM: Number(foundM.toFixed(4)) } })(draft);
      }
    });
  return (
    <p className="reason" data-testid="distances">
      {off.length === 0 ? (
        <>Its drivers sound from where they are set, to a millimetre or two.</>
      ) : (
        <>
          {off
            .map(({ name, setM, foundM }) => {
              const where = foundM > setM ? 'further back' : 'further forward';
              return `${name} sounds from ${millimetres(foundM - setM)}\u202fmm ${where} than it is set`;
            })
            .join('; ')}
          : off by {formatFixed(found.foundDb, 2)}&#8239;dB there, {formatFixed(found.setDb, 2)}&#8239;dB as set.{' '}
          <Button size="small" onClick={take}>
            Set it so
          </Button>
        </>
      )}
    </p>
  );
}
