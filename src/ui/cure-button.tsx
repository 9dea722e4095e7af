'use client';

import type { Check, Cure } from '@/core/jobs/desk/desk-types';
import { checkWords, cureWords } from './words/checks';
import { edit } from '@/store/document';
import { turnOver } from '@/store/edits/speaker-edits';
import { insertBuffer, predistort, setOutputResistor, setTopology, type Edit } from '@/store/edits/edits';
import { setDevice } from '@/store/edits/part-edits';
import { insertFollower, setForm } from '@/store/edits/network-edits';
import styles from './cure-button.module.css';

/** The edit that a cure is. */
function cureEdit(cure: Cure): Edit {
  switch (cure.kind) {
    case 'set-output-resistor':
      return setOutputResistor(cure.ohm);
    case 'insert-buffer':
      return insertBuffer(cure.joint);
    case 'insert-follower':
      return insertFollower(cure.joint, cure.loadOhm, cure.emitterVolts);
    case 'use-form':
      return setForm(cure.stageId, cure.form);
    case 'use-topology':
      return setTopology(cure.stageId, cure.topology);
    case 'use-device':
      return setDevice(cure.stageId, cure.device);
    case 'turn-over':
      return turnOver(cure.wayId);
    case 'predistort':
      return predistort(cure.stageId, { freq: cure.freq, q: cure.q });
  }
}

/** A check's cure as a button where the desk can do it, as advice where it cannot. */
export function CureButton({ check }: { check: Check }) {
  const { cure } = check;
  const { cure: words } = checkWords(check);
  if (!words) return null;
  if (!cure) return <span className={styles.advice}>{words}</span>;
  return (
    <>
      <button type="button" className="link" onClick={() => edit(cureEdit(cure))}>
        {words}
      </button>
      {(check.others ?? []).map((other) => (
        <span key={other.kind}>
          {' '}
          or{' '}
          <button type="button" className="link" onClick={() => edit(cureEdit(other))}>
            {cureWords(other)}
          </button>
        </span>
      ))}
    </>
  );
}
