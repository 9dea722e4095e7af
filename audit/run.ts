import { parseArgs } from 'node:util';
import { again, auditCase, tableOf, type Case } from './audit';
import { isOff } from './checks';

/**
 * Draws designs and holds every figure of each against a second method: `npm run audit -- --cases N --seed S`. Exits
 * with 1 where any is off.
 */
const say = (line: string): void => void process.stdout.write(`${line}\n`);

async function main(): Promise<number> {
  const { values } = parseArgs({
    options: { cases: { type: 'string' }, seed: { type: 'string' }, only: { type: 'string' } },
  });
  const [count, first] = [Number(values.cases ?? 200), Number(values.seed ?? 1)];
  const cases: Case[] = [];
  for (let k = 0; k < count; k++) cases.push(await auditCase(first + k));
  const rows = tableOf(cases);
  say(`${'figure'.padEnd(34)} cases  worst/allowed  failed`);
  for (const { figure, cases: n, worst, failed } of rows)
    say(
      `${figure.padEnd(34)} ${String(n).padStart(5)}  ${worst.toFixed(3).padStart(13)}  ${String(failed).padStart(6)}`,
    );
  const refused = cases.filter((c) => c.refused !== null);
  say(`${count} designs, ${refused.length} of them refused by the product`);
  const off = cases.flatMap((c) => c.findings.filter(isOff).map((finding) => ({ c, finding })));
  for (const { c, finding } of off.slice(0, 40))
    say(`seed ${c.seed}: ${finding.figure}: said ${finding.said}, found ${finding.found}\n  ${again(c)}`);
  return off.length === 0 ? 0 : 1;
}

process.exitCode = await main();
