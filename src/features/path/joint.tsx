'use client';

import { Popover } from 'antd';
import type { DeskJoint } from '@/core/jobs/desk/desk-types';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { checkWords } from '@/ui/words/checks';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { CureButton } from '@/ui/cure-button';
import styles from './path.module.css';

/** Makers' shorthand, to fit the wire: `600`, `11k`. */
const short = (ohm: number): string => formatQuantity(ohm, 'resistance', { digits: 2, bare: true, tight: true });

/** The wire between two cards: what it loses, what it drives, and the cure when that matters. */
export function Joint({ index, stages }: { index: number; stages: number }) {
  // While results catch up with an edit, a joint is shown only where it still belongs to the same row of stages.
  const joint = useAnswer(DESK, (d): DeskJoint | undefined =>
    d.stages.length === stages ? d.joints[index] : undefined,
  );
  const check = useAnswer(DESK, (d) => d.checks.find((c) => c.id === `joint-${index}`));
  if (!joint) return <div className="joint" />;
  const drives =
    joint.seesOhm === null
      ? 'open'
      : joint.fromOhm >= 1 && joint.verdict !== 'ok'
        ? `${short(joint.fromOhm)} into ${short(joint.seesOhm)}`
        : `sees ${short(joint.seesOhm)}Ω`;
  const loss = Math.abs(joint.lossDb) < 0.005 ? '0 dB' : formatSigned(joint.lossDb, 'decibel');
  const face = (
    <>
      <span className="figures">{loss}</span>
      <span className={styles.jointWire} aria-hidden="true" />
      <span className="joint-drives">{drives}</span>
    </>
  );
  if (!check || joint.verdict === 'ok') return <div className="joint">{face}</div>;
  return (
    <Popover
      trigger="click"
      content={
        <div className="joint-cure">
          <p>{checkWords(check).text}</p>
          <CureButton check={check} />
        </div>
      }
    >
      <button
        type="button"
        className={`joint plain ${joint.verdict}`}
        aria-label={`Joint ${index + 1}: ${checkWords(check).text} Open for the cure.`}
        data-testid={`joint-${joint.verdict}`}
      >
        {face}
      </button>
    </Popover>
  );
}
