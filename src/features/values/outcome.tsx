import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { outcomeRows } from './outcome-rows';

/** Asked for against what the chosen parts and the real op-amp come to. */
export function Outcome({ facts }: { facts: DeskStage }) {
  const rows = outcomeRows(facts);
  if (rows.length === 0) return <h2>{facts.name}</h2>;
  return (
    <table className="sheet outcome">
      <thead>
        <tr>
          <th>{facts.name}</th>
          <th className="number">wanted</th>
          <th className="number">with these parts</th>
          <th className="number">off by</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, wanted, real, off }) => (
          <tr key={name}>
            <td>{name}</td>
            <td className="number">{wanted}</td>
            <td className="number" data-testid={`got-${name}`}>
              <b>{real}</b>
            </td>
            <td className="number">{off}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
