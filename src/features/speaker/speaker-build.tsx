'use client';

import { Fold } from '@/ui/fold';
import { Select } from 'antd';
import { useMemo, useState } from 'react';
import {
  boardPlan,
  LAYOUTS,
  type BoardGroup,
  type BoardPart,
  type BoardPlan,
  type BoardWay,
  type Layout,
  type PlacedOnBoard,
} from '@/core/parts/board-plan';
import { boardFaults, type BoardFault } from '@/core/parts/board-reader';
import { designWay } from '@/core/design/stages/stage-design';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { useDesignJob } from '@/store/use-design-job';
import { useDesignators } from '@/store/use-designators';
import styles from './speaker.module.css';

/**
 * What building a passive crossover wants besides parts and nets: a plan to scale, what the meter reads before power,
 * what to mind. For active ways, what the trims are set by.
 */
export function SpeakerBuild() {
  const design = useDesign((d) => d);
  const variant = currentVariantOf(design);
  const passive =
    variant.join === 'acoustic' && variant.ways.some((w) => w.load.kind === 'driver' && !w.load.amplifier);
  const active = variant.join === 'acoustic' && variant.ways.some((w) => w.load.kind === 'driver' && w.load.amplifier);
  return (
    <>
      {passive && <Board />}
      {passive && <Meter />}
      {active && <Trims />}
      {variant.join === 'acoustic' && (
        <section className="panel" aria-label="Building a crossover">
          <h2>Building a crossover</h2>
          <ul className="work">
            <li>
              Strip the enamel from a coil’s ends before soldering: scrape it all round, or burn it off and sand; tin it
              and see that the solder flows.
            </li>
            <li>Electronics solder with rosin only; plumber’s flux eats leads for years.</li>
            <li>
              Fix coils with plastic ties or brass screws, never iron through the middle; keep them off steel chassis
              and magnets.
            </li>
            <li>
              Mark input +, every driver’s + and −, and which way it is wired when reversed. A driver’s + is the
              terminal that pushes the cone out with a battery’s +.
            </li>
            <li>
              First sound at low level, and with a capacitor of 20 µF before the tweeter until the high-pass is proved.
            </li>
            <li>
              An amplifier’s terminals can carry dangerous volts; power off before touching. Mains work is for qualified
              people and local codes.
            </li>
          </ul>
        </section>
      )}
    </>
  );
}

function useBoardWays(): readonly BoardWay[] {
  const variant = useDesign(currentVariantOf);
  const preferences = useDesign((d) => d.preferences);
  const brief = useDesign((d) => d.brief);
  const called = useDesignators();
  return useMemo(
    () =>
      variant.ways
        .filter((w) => w.load.kind === 'driver' && !w.load.amplifier)
        .flatMap((way): BoardWay[] => {
          const designed = designWay(way, { preferences, brief }, variant.controls);
          if (!designed.ok) return [];
          return [
            {
              name: way.name,
              reversed: way.polarity === -1,
              groups: designed.value.stages
                .filter((s) => !s.stage.bypassed)
                .flatMap((s) =>
                  (s.role === 'network' ? (s.topology.arms?.(s.form) ?? []) : []).flatMap((arm): BoardGroup[] => {
                    if (arm.to === 'follower') return [];
                    const parts = arm.parts.flatMap((name): BoardPart[] => {
                      const p = s.parts.find((x) => x.spec.name === name && !x.choice.leftOut);
                      return p
                        ? [
                            {
                              name:
                                `${called(s.stage.id, name)} ` +
                                formatQuantity(p.chosen, PART_UNITS[p.spec.kind], { digits: 2 }),
                              kind: p.spec.kind,
                              value: p.chosen,
                              grade: p.grade,
                            },
                          ]
                        : [];
                    });
                    return parts.length > 0
                      ? [
                          {
                            inLine: arm.to === 'line',
                            sideBySide: parts.length > 1 && (arm.to === 'line' || arm.joined === 'pair'),
                            parts,
                          },
                        ]
                      : [];
                  }),
                ),
            },
          ];
        }),
    [variant, preferences, brief, called],
  );
}

const CLOSE_MM = 60;

function Board() {
  const ways = useBoardWays();
  const [layout, setLayout] = useState<Layout>(LAYOUTS[0]);
  if (ways.length === 0) return null;
  const plan = boardPlan(ways, layout);
  const faults = boardFaults(plan, ways);
  const near = plan.coils.filter((c) => c.distance < CLOSE_MM);
  return (
    <Fold name="Board plan" title="Board plan" outcome={`${plan.width} × ${plan.height} mm`} testId="board-plan">
      <header>
        <span>
          {plan.width} × {plan.height} mm
        </span>
        <Select
          size="small"
          aria-label="Layout of the board"
          value={layout}
          options={LAYOUTS.map((value) => ({ value, label: value }))}
          onChange={setLayout}
          popupMatchSelectWidth={false}
        />
      </header>
      {faults.length === 0 ? (
        <BoardDrawing plan={plan} />
      ) : (
        <p role="alert" className="reason bad">
          No plan of this kind can be built: {faultWords(faults[0])}. Choose another, or wire it by the schematic.
        </p>
      )}
      <p className="reason quiet">
        To scale, seen from above, for wiring point to point. Coils are turned square to their neighbours: flat, on edge
        along the row, on edge across it.
      </p>
      {near.map((c) => (
        <p key={`${c.first} ${c.second}`} className="reason">
          {c.square ? '✓' : '!'} {c.first} and {c.second}: {c.distance} mm between their middles,{' '}
          {c.square ? 'standing square to one another' : 'alike: turn one or move it'}.
        </p>
      ))}
    </Fold>
  );
}

const faultWords = ({ kind, between: [a, b] }: BoardFault): string =>
  kind === 'joined' ? `its conductors would join ${a} and ${b}` : `${a} and ${b} would not meet`;

function BoardDrawing({ plan }: { plan: BoardPlan }) {
  return (
    <svg
      className={`schematic ${styles.boardPlan}`}
      viewBox={`0 0 ${plan.width} ${plan.height}`}
      role="img"
      aria-label="Plan of the board to scale"
    >
      <rect x={1} y={1} width={plan.width - 2} height={plan.height - 2} rx={3} className={styles.boardEdge} />
      {plan.cut !== null && <path d={`M0 ${plan.cut + 7}H${plan.width}`} className={styles.boardCut} />}
      {plan.wires.map((wire, i) => (
        <path key={i} d={`M${wire.map(([x, y]) => `${x} ${y}`).join('L')}`} className={styles.boardWire} />
      ))}
      {plan.parts.map((p) => (
        <PartOnBoard key={`${p.way} ${p.name}`} part={p} />
      ))}
      {plan.terminals.map((t) => (
        <g key={t.label}>
          <circle cx={t.x} cy={t.y} r={3} className={styles.boardTerminal} />
          <text
            x={t.x < plan.width / 2 ? t.x - 4 : t.x + 4}
            y={t.y - 5}
            textAnchor={t.x < plan.width / 2 ? 'start' : 'middle'}
            className={styles.boardLabel}
          >
            {t.label}
          </text>
        </g>
      ))}
      <path d={`M${plan.width - 64} ${plan.height - 6}h50m0 -2v4m-50 -4v4`} className={styles.boardWire} />
      <text x={plan.width - 39} y={plan.height - 9} textAnchor="middle" className={styles.boardLabel}>
        50 mm
      </text>
    </svg>
  );
}

/** A coil on edge takes the room of its side, not of its face. */
function PartOnBoard({ part: { name, kind, x, y, width, height, stands } }: { part: PlacedOnBoard }) {
  const [w, h] =
    stands === 'on edge, along'
      ? [width, height * 0.5]
      : stands === 'on edge, across'
        ? [width * 0.5, height]
        : [width, height];
  return (
    <g>
      <path d={`M${x - width / 2} ${y}h${width}`} className={styles.boardWire} />
      {kind === 'inductor' && stands === 'flat' ? (
        <>
          <circle cx={x} cy={y} r={w / 2} className={styles.boardPart} />
          <circle cx={x} cy={y} r={w / 5} className={styles.boardPart} />
        </>
      ) : (
        <rect
          x={x - w / 2}
          y={y - h / 2}
          width={w}
          height={h}
          rx={kind === 'resistor' ? 1 : 3}
          className={styles.boardPart}
        />
      )}
      {kind === 'inductor' && stands !== 'flat' && (
        <path
          d={stands === 'on edge, along' ? `M${x - w / 2} ${y}h${w}` : `M${x} ${y - h / 2}v${h}`}
          className={styles.boardCut}
        />
      )}
      <text x={x} y={y + 2.5} textAnchor="middle" className={styles.boardLabel}>
        {name.split(' ')[0]}
      </text>
      <text x={x} y={y + 10} textAnchor="middle" className={`${styles.boardLabel} value`}>
        {name.split(' ').slice(1).join(' ')}
      </text>
    </g>
  );
}

function Meter() {
  const readings = useDesignJob('terminals', {});
  if (!readings) return null;
  return (
    <Fold
      name="With a meter before power"
      title="With a meter, before power"
      outcome={`${readings.length} readings to expect`}
      testId="meter-before-power"
    >
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th>between</th>
            <th>drivers</th>
            <th className="number">reads</th>
          </tr>
        </thead>
        <tbody>
          {readings.map((r) => (
            <tr key={`${r.pair} ${r.with}`}>
              <td>{r.pair}</td>
              <td>{r.with === 'drivers off' ? 'off' : 'on'}</td>
              <td className="number">{r.ohm === null ? 'open' : formatQuantity(r.ohm, 'resistance', { digits: 2 })}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="reason quiet">
        The amplifier is off and taken away. Let capacitors charge from the meter before reading; subtract its leads’
        own resistance.
      </p>
    </Fold>
  );
}

/** What each way’s level trim is set to by a voltmeter: the same tone in, so much out. */
function Trims() {
  const trims = useDesignJob('level-trims', {});
  if (!trims) return null;
  return (
    <Fold name="Setting the level trims" title="Setting the level trims" testId="level-trims">
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th>way</th>
            <th className="number">tone</th>
            <th className="number">in</th>
            <th className="number">set its trim for</th>
          </tr>
        </thead>
        <tbody>
          {trims.map(({ wayId, name, reversed, toneHz, inVolts, outVolts }) => (
            <tr key={wayId}>
              <td>
                {name}
                {reversed ? ', reversed' : ''}
              </td>
              <td className="number">{formatQuantity(toneHz, 'frequency', { digits: 3 })}</td>
              <td className="number">{formatQuantity(inVolts, 'voltage')}</td>
              <td className="number">{formatQuantity(outVolts, 'voltage', { digits: 3 })}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="reason quiet">
        A sine into the input, a meter at the board’s output with the amplifier off. One board drawing serves all ways;
        the parts list above is for each way’s own values.
      </p>
    </Fold>
  );
}
