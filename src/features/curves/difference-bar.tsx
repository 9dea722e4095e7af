'use client';

import { Select } from 'antd';
import { useComparison } from '@/store/comparison';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { setView, useView } from '@/store/view';
import styles from './difference-bar.module.css';

/** Variants are laid under before they are compared with. */
const VARIANT = 'variant ';

/** Which two curves the difference is of: this variant’s, another’s, kept and measured ones, the ideal. */
export function DifferenceBar() {
  const comparison = useComparison();
  const compared = useView((s) => s.compared);
  const ghost = useView((s) => s.ghostVariant);
  const variants = useDesign((d) => d.variants);
  const current = useDesign((d) => currentVariantOf(d).id);
  if (!comparison) return null;
  const options = [
    ...comparison.curves.map(({ key, name }) => ({ value: key, label: name })),
    ...variants
      .filter(({ id }) => id !== current && id !== ghost)
      .map(({ id, name }) => ({ value: VARIANT + id, label: `${name} as built` })),
  ];
  const choose = (place: 'first' | 'second') => (key: string) =>
    setView(
      key.startsWith(VARIANT)
        ? { ghostVariant: key.slice(VARIANT.length), compared: { ...compared, [place]: 'ghost' } }
        : { compared: { ...compared, [place]: key } },
    );
  return (
    <div className={`wave-bar ${styles.bar}`} role="group" aria-label="Compared curves">
      <Select
        size="small"
        aria-label="Curve"
        value={comparison.first.key}
        options={options.filter(({ value }) => value !== comparison.second.key)}
        onChange={choose('first')}
        popupMatchSelectWidth={false}
      />
      <span className="quiet">less</span>
      <Select
        size="small"
        aria-label="Curve that is taken away"
        value={comparison.second.key}
        options={options.filter(({ value }) => value !== comparison.first.key)}
        onChange={choose('second')}
        popupMatchSelectWidth={false}
      />
    </div>
  );
}
