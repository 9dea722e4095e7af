'use client';

import { Segmented } from 'antd';
import type { Package } from '@/core/parts/packages';
import { edit, useDesign } from '@/store/document';
import { changePreferences } from '@/store/edits/record-edits';
import { LongList } from '@/ui/fold';

const SIZES: { value: 1 | 2 | 4; label: string }[] = [
  { value: 1, label: 'single' },
  { value: 2, label: 'dual' },
  { value: 4, label: 'quad' },
];

/** Which unit of which package is which op-amp of the circuit, and what becomes of spares. */
export function Packages({ packages, boards, plus }: { packages: readonly Package[]; boards: number; plus: string }) {
  const size = useDesign((d) => d.preferences.opAmpPackage ?? 2);
  const spares = packages.flatMap((p) => p.units.filter((u) => u.reference === null));
  return (
    <section className="panel" aria-label="Packages" data-testid="packages">
      <header>
        <h2>
          {packages.length} {packages.length === 1 ? 'package' : 'packages'} a board
          {boards > 1 ? `, ${packages.length * boards} in all` : ''}
        </h2>
        <Segmented
          size="small"
          className="no-print"
          aria-label="Units in a package"
          value={size}
          options={SIZES}
          onChange={(opAmpPackage) => edit(changePreferences({ opAmpPackage }))}
        />
      </header>
      <LongList label="Packages" low>
        <table className="sheet">
          <tbody>
            {packages.map((p) => (
              <tr key={p.name}>
                <td>
                  <b>{p.name}</b>
                </td>
                <td>{p.opAmp}</td>
                <td className="figures">{p.units.map((u) => `${u.unit} ${u.reference ?? 'spare'}`).join(' · ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </LongList>
      {spares.length > 0 && (
        <p className="reason">
          Terminate {spares.length === 1 ? 'the spare' : 'the spares'} (
          {spares.map((u) => `${u.package}${u.unit}`).join(', ')}): output to −, + to {plus}; left open it may oscillate
          and warm its neighbours.
        </p>
      )}
    </section>
  );
}
