'use client';

import type { BuildSheet } from '@/core/design/building/build-sheet';
import { formatQuantity } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { LongList } from '@/ui/fold';
import { FirstVolts } from './first-volts';

/** In which order it is built, and what to look at before power. */
export function OrderOfWork({ sheet }: { sheet: BuildSheet }) {
  return (
    <section className="panel" aria-label="Order of work">
      <h2>Order of work</h2>
      <LongList label="Steps of the work">
        <Steps sheet={sheet} />
        <h2>Before power</h2>
        <BeforePower sheet={sheet} />
        <FirstVolts />
        <h2>Take care</h2>
        <ul className="work">
          <li>
            Power off before touching, and let supplies discharge. Mains inside supplies and amplifiers is for qualified
            people and local codes.
          </li>
          <li>Solder fumes want air; wear eye protection when cutting leads.</li>
          <li>These are the usual cautions; the tool advises and does not certify.</li>
        </ul>
      </LongList>
    </section>
  );
}

const hasDevices = ({ parts }: BuildSheet): boolean => parts.some((line) => line.kind === 'device');

function Steps({ sheet }: { sheet: BuildSheet }) {
  const supply = useDesign((d) => d.brief.supply);
  const { packages, batches, stages } = sheet;
  const powered = hasDevices(sheet);
  return (
    <ol className="work">
      <li>
        Lay out the parts list and tick it off; measure one of every resistor value before the first board: a wrong bag
        spoils the whole batch.
      </li>
      {batches.map(({ name, matchPct, references }) => (
        <li key={name}>
          {name}: take {references.join(', ')} from one bag and sort them to within{' '}
          {formatQuantity(matchPct, 'percent')} of one another.
        </li>
      ))}
      {packages.length === 0 && !powered ? (
        <li>
          Terminals and the common conductor first, then coils, capacitors and resistors, each resistor clear of the
          board.
        </li>
      ) : (
        <li>
          Wires and sockets first, then resistors, then capacitors,{' '}
          {packages.length > 0 ? 'op-amps' : 'transistors and diodes'} last.
        </li>
      )}
      {packages.length > 0 && (
        <li>
          Decouple each op-amp package with 100 nF from {supply.kind === 'dual' ? 'each rail' : 'the supply'} to ground,
          close to its pins.
        </li>
      )}
      {stages.map((stage, i) => (
        <li key={i}>
          {stage.name} ({stage.topology}): {stage.references.join(', ')}. Try it before the next one.
        </li>
      ))}
    </ol>
  );
}

function BeforePower({ sheet }: { sheet: BuildSheet }) {
  const supply = useDesign((d) => d.brief.supply);
  const { packages } = sheet;
  const powered = hasDevices(sheet);
  return (
    <ul className="work">
      {packages.length > 0 && (
        <>
          <li>
            No short between {supply.kind === 'dual' ? 'either rail and ground, or rail and rail' : 'supply and ground'}
            ; op-amps the right way round.
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
          {supply.kind === 'single' ? 'Battery the right way round' : 'Rails the right way round'}; transistors and
          diodes too, electrolytic capacitors with their + to the higher voltage below.
        </li>
      )}
      <li>Start with the level down and the loudspeaker off; protect tweeters and ears when sweeping.</li>
    </ul>
  );
}
