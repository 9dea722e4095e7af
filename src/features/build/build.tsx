'use client';

import { Fold, LongList } from '@/ui/fold';
import { Button, Segmented } from 'antd';
import { PrinterOutlined } from '@ant-design/icons';
import { useMemo } from 'react';
import { buildSheet } from '@/core/design/building/build-sheet';
import { formatQuantity, formatFixed } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changePreferences } from '@/store/edits/record-edits';
import { exportParts, printReport } from '@/store/exports';
import { coverList, type Covered } from '@/core/parts/stock';
import { useStock } from '@/store/shelf/stock';
import { Helpers } from './helpers';
import { FirstVolts } from './first-volts';
import { StripBoardPanel } from './strip-board';
import type { Package } from '@/core/parts/packages';
import { partText } from '@/core/parts/parts-list';

function shoppingWords(covered: readonly Covered[]): string {
  const toBuy = covered.filter((c) => c.buy > 0);
  if (toBuy.length === 0) return 'All of it is in stock.';
  const priced = toBuy.filter((c) => c.price !== null);
  const cost = priced.reduce((sum, c) => sum + c.buy * (c.price ?? 0), 0);
  return (
    `${toBuy.reduce((sum, c) => sum + c.buy, 0)} parts of ${toBuy.length} kinds to ` +
    `buy${
      priced.length > 0
        ? `, ${formatFixed(cost, 2)} for those with a ` +
          `price${priced.length < toBuy.length ? ` (${toBuy.length - priced.length} have none)` : ''}`
        : ''
    }.`
  );
}

const SIZES: { value: 1 | 2 | 4; label: string }[] = [
  { value: 1, label: 'single' },
  { value: 2, label: 'dual' },
  { value: 4, label: 'quad' },
];

/** Which unit of which package is which op-amp of the circuit, and what becomes of spares. */
function Packages({ packages, boards, plus }: { packages: readonly Package[]; boards: number; plus: string }) {
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

/** What to buy, what meets where, in which order, and what to look at before power. Printed, it is the report. */
export function Build() {
  const design = useDesign((d) => d);
  const stock = useStock();
  const sheet = useMemo(() => buildSheet(design, currentVariantOf(design)), [design]);
  if (!sheet.ok) return <p className="panel failure">{failureWords(sheet)}</p>;
  const { parts, connections, stages, boards, packages, batches, besides } = sheet.value;
  const { supply } = design.brief;
  const powered = parts.some((line) => line.kind === 'device');
  const covered = coverList(parts, stock ?? []);
  const stocked = stock !== undefined && stock.length > 0;
  return (
    <div className="build-sheet">
      <section className="panel" aria-label="Parts list">
        <header>
          <h2 className="print-title">
            {design.title}, variant {currentVariantOf(design).name}
          </h2>
          <span className="no-print build-actions">
            <QuantityInput
              label="boards"
              hideLabel
              small
              kind="ratio"
              integer
              min={1}
              max={1000}
              value={boards}
              onChange={(v) => v !== null && edit(changePreferences({ boards: v }))}
              testId="boards"
            />
            <span className="quiet">board{boards === 1 ? '' : 's'}</span>
            <Button size="small" onClick={exportParts}>
              CSV
            </Button>
            <Button size="small" icon={<PrinterOutlined />} onClick={() => void printReport()}>
              Print
            </Button>
          </span>
        </header>
        <LongList label="Parts">
          <table className="sheet" data-testid="parts-list">
            <thead>
              <tr>
                <th>part</th>
                <th>where</th>
                <th className="number">a board</th>
                <th className="number">in all</th>
                {stocked && (
                  <>
                    <th className="number">have</th>
                    <th className="number">buy</th>
                  </>
                )}
              </tr>
            </thead>
            <tbody>
              {parts.map((line, i) => (
                <tr key={`${line.kind}${line.value}${line.name}${line.tolerancePct}`}>
                  <td className={line.kind === 'op-amp' || line.kind === 'device' ? undefined : 'figures part-value'}>
                    {partText(line)}
                  </td>
                  <td>{line.references.join(', ')}</td>
                  <td className="number">{line.perBoard}</td>
                  <td className="number">
                    <b>{line.total}</b>
                  </td>
                  {stocked && (
                    <>
                      <td className="number">{covered[i].have || '–'}</td>
                      <td className={`number${covered[i].buy > 0 ? ' warn' : ''}`}>{covered[i].buy || '–'}</td>
                    </>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </LongList>
        {stocked && (
          <p className="reason" data-testid="shopping">
            {shoppingWords(covered)}
          </p>
        )}
        <p className="reason quiet">
          Every stage has its own hundred: R1 to R99 stand in the first, R101 to R199 in the second. Op-amps are counted
          in units here.
        </p>
      </section>
      {packages.length > 0 && (
        <Packages packages={packages} boards={boards} plus={supply.kind === 'dual' ? 'ground' : 'virtual ground'} />
      )}
      {besides.length > 0 && (
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
            Touch something grounded before the inputs of OTAs and field-effect transistors: they do not bear what a
            jersey brings. Plug in with the loudness down, since coupling capacitors charge with a pop.
          </p>
        </Fold>
      )}
      <Helpers />
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
      <StripBoardPanel />
      <section className="panel" aria-label="Order of work">
        <h2>Order of work</h2>
        <LongList label="Steps of the work">
          <ol className="work">
            <li>
              Lay out the parts list and tick it off; measure one of every resistor value before the first board: a
              wrong bag spoils the whole batch.
            </li>
            {batches.map(({ name, matchPct, references }) => (
              <li key={name}>
                {name}: take {references.join(', ')} from one bag and sort them to within{' '}
                {formatQuantity(matchPct, 'percent')} of one another.
              </li>
            ))}
            {packages.length === 0 && !powered ? (
              <li>
                Terminals and the common conductor first, then coils, capacitors and resistors, each resistor clear of
                the board.
              </li>
            ) : (
              <li>
                Wires and sockets first, then resistors, then capacitors,{' '}
                {packages.length > 0 ? 'op-amps' : 'transistors and diodes'} last.
              </li>
            )}
            {packages.length > 0 && (
              <li>
                Decouple each op-amp package with 100 nF from {supply.kind === 'dual' ? 'each rail' : 'the supply'} to
                ground, close to its pins.
              </li>
            )}
            {stages.map((stage, i) => (
              <li key={i}>
                {stage.name} ({stage.topology}): {stage.references.join(', ')}. Try it before the next one.
              </li>
            ))}
          </ol>
          <h2>Before power</h2>
          <ul className="work">
            {packages.length > 0 && (
              <>
                <li>
                  No short between{' '}
                  {supply.kind === 'dual' ? 'either rail and ground, or rail and rail' : 'supply and ground'}; op-amps
                  the right way round.
                </li>
                <li>
                  {supply.kind === 'dual'
                    ? `Both rails come up together, ${formatQuantity(supply.volts, 'voltage')} each; a series ` +
                      `resistor of 100 Ω in each rail for the first switching-on.`
                    : `Battery polarity; the virtual ground stands at ${formatQuantity(supply.volts / 2, 'voltage')}.`}
                </li>
                <li>
                  With no signal every op-amp output lies within some millivolts of{' '}
                  {supply.kind === 'dual' ? 'ground' : 'the virtual ground'}.
                </li>
              </>
            )}
            {packages.length === 0 && powered && (
              <li>
                {supply.kind === 'single' ? 'Battery the right way round' : 'Rails the right way round'}; transistors
                and diodes too, electrolytic capacitors with their + to the higher voltage below.
              </li>
            )}
            <li>Start with the level down and the loudspeaker off; protect tweeters and ears when sweeping.</li>
          </ul>
          <FirstVolts />
          <h2>Take care</h2>
          <ul className="work">
            <li>
              Power off before touching, and let supplies discharge. Mains inside supplies and amplifiers is for
              qualified people and local codes.
            </li>
            <li>Solder fumes want air; wear eye protection when cutting leads.</li>
            <li>These are the usual cautions; the tool advises and does not certify.</li>
          </ul>
        </LongList>
      </section>
    </div>
  );
}
