'use client';

import { Select } from 'antd';
import { useComparison } from '@/store/curves/comparison';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { setView, useView } from '@/store/view';
import styles from './difference-bar.module.css';
import curvesStyles from './curves.module.css';

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
  const { first, second } = comparison;
  return (
    <div className={`${curvesStyles.waveBar} ${styles.bar}`} role="group" aria-label="Compared curves">
      <Choice
        label="Curve"
        value={first.key}
        options={options.filter(({ value }) => value !== second.key)}
        onChoose={choose('first')}
      />
      <span className="quiet">less</span>
      <Choice
        label="Curve that is taken away"
        value={second.key}
        options={options.filter(({ value }) => value !== first.key)}
        onChoose={choose('second')}
      />
    </div>
  );
}

function Choice({
  label,
  value,
  options,
  onChoose,
}: {
  label: string;
  value: string;
  options: { value: string; label: string }[];
  onChoose: (key: string) => void;
}) {
  return (
    <Select
      size="small"
      aria-label={label}
      value={value}
      options={options}
      onChange={onChoose}
      popupMatchSelectWidth={false}
    />
  );
}
