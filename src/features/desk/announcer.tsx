'use client';

import { useEffect, useState } from 'react';
import { formatQuantity } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';

/** ms: a drag is not spoken, but where it ends. */
const STILL_MS = 900;

/** Says to readers of the screen what the eye sees change: the variant on the desk and where its cutoff lies. */
export function Announcer() {
  const variant = useDesign((d) => {
    const { name, label } = currentVariantOf(d);
    return label ? `${name}, ${label}` : name;
  });
  const figures = useAnswer(DESK, (d) => {
    if (!d.stability.stable) return 'oscillates';
    const cutoffs = d.marks.filter((m) => m.kind === 'cutoff').map((m) => formatQuantity(m.freqHz, 'frequency'));
    return cutoffs.length > 0 ? `cutoff ${cutoffs.join(' and ')}` : 'no cutoff';
  });
  const [spoken, setSpoken] = useState('');
  const words = figures === null ? '' : `Variant ${variant}: ${figures}`;
  useEffect(() => {
    const timer = setTimeout(() => setSpoken(words), STILL_MS);
    return () => clearTimeout(timer);
  }, [words]);
  return (
    <p className="only-read-aloud" role="status" data-testid="announcer">
      {spoken}
    </p>
  );
}
