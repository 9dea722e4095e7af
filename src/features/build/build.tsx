'use client';

import { useMemo } from 'react';
import { buildSheet, type BuildSheet } from '@/core/design/building/build-sheet';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { Fold, LongList } from '@/ui/fold';
import { failureWords } from '@/ui/words/failures';
import { Helpers } from './helpers';
import { OrderOfWork } from './order-of-work';
import { Packages } from './packages';
import { PartsPanel } from './parts-panel';
import { StripBoardPanel } from './strip-board';
import styles from './build.module.css';

/** What to buy, what meets where, in which order, and what to look at before power. Printed, it is the report. */
export function Build() {
  const design = useDesign((d) => d);
  const sheet = useMemo(() => buildSheet(design, currentVariantOf(design)), [design]);
  if (!sheet.ok) return <p className="panel failure">{failureWords(sheet)}</p>;
  const { parts, connections, boards, packages, besides } = sheet.value;
  const { supply } = design.brief;
  return (
    <div className={styles.buildSheet}>
      <PartsPanel parts={parts} boards={boards} />
      {packages.length > 0 && (
        <Packages packages={packages} boards={boards} plus={supply.kind === 'dual' ? 'ground' : 'virtual ground'} />
      )}
      {besides.length > 0 && <Besides besides={besides} />}
      <Helpers />
      <Connections connections={connections} />
      <StripBoardPanel />
      <OrderOfWork sheet={sheet.value} />
    </div>
  );
}

/** Supply, sockets and the like, and what they want. */
function Besides({ besides }: Pick<BuildSheet, 'besides'>) {
  return (
    <Fold
      name="Besides the circuit"
      title="Besides the circuit: supply and sockets"
      outcome={`${besides.reduce((sum, b) => sum + b.count, 0)} parts a board`}
    >
      <table className="sheet" data-testid="besides">
        <tbody>
          {besides.map(({ name, count, why }) => (
            <tr key={name + why}>
              <td className="number">{count}</td>
              <td>{name}</td>
              <td className="quiet">{why}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="reason caution">
        Touch something grounded before the inputs of OTAs and field-effect transistors: they do not bear what a jersey
        brings. Plug in with the loudness down, since coupling capacitors charge with a pop.
      </p>
    </Fold>
  );
}

function Connections({ connections }: Pick<BuildSheet, 'connections'>) {
  return (
    <Fold name="Connections" title="What meets where" outcome={`${connections.length} nets`}>
      <LongList label="What meets where">
        <table className="sheet">
          <tbody>
            {connections.map(({ net, pins }) => (
              <tr key={net}>
                <td>
                  <b>{net}</b>
                </td>
                <td className="figures">{pins.join(' · ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </LongList>
    </Fold>
  );
}
