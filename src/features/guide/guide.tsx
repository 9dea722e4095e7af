'use client';

import { CheckOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import { useEffect, useState } from 'react';
import type { Design } from '@/core/design/document/schema';
import { useDesign } from '@/store/document';
import { endGuide, guideStore, restoreGuide, toStep } from '@/store/guide';
import { SPREAD } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { useView } from '@/store/view';
import { GUIDE_STEPS } from './steps';
import styles from './guide.module.css';

/** The guided first design, beside the work and never over it: what to try next, until it is done, skipped or ended. */
export function Guide() {
  const { designId, step } = guideStore();
  const here = useDesign((d) => d.id === designId);
  useEffect(restoreGuide, []);
  return here && GUIDE_STEPS[step] ? <Step key={step} at={step} /> : null;
}

function Step({ at }: { at: number }) {
  const step = GUIDE_STEPS[at];
  const done = useDone(at);
  const last = at === GUIDE_STEPS.length - 1;
  const goOn = () => (last ? endGuide() : toStep(at + 1));
  return (
    <section className={`panel ${styles.guide}`} aria-label="First design, step by step" data-testid="guide">
      <header>
        <h2>
          {done && <CheckOutlined aria-label="done" />} {step.title}
        </h2>
        <span className="quiet figures">
          {at + 1} of {GUIDE_STEPS.length}
        </span>
      </header>
      <p role="status">{done ? step.then : step.says}</p>
      <div className={styles.guideActions}>
        <Button size="small" type={done ? 'primary' : 'default'} onClick={goOn}>
          {done ? (last ? 'Done' : 'Go on') : 'Skip this'}
        </Button>
        {!(done && last) && (
          <Button size="small" type="text" onClick={endGuide}>
            End the guide
          </Button>
        )}
      </div>
    </section>
  );
}

/** Whether a step has been done since it began; once it has, it stays done. */
function useDone(at: number): boolean {
  const design = useDesign((d) => d);
  const [before] = useState<Design>(design);
  const [done, setDone] = useState(false);
  const task = useView((s) => s.task);
  const curveView = useView((s) => s.curveView);
  const spread = useLongJob(SPREAD).result !== null;
  const now = GUIDE_STEPS[at].done({ before, design, view: { task, curveView }, spread });
  if (now && !done) setDone(true);
  return done || now;
}
