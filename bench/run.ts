import { spawn } from 'node:child_process';
import { measureCore } from './core';
import { measureDrag } from './drag';
import { measureGoals } from './goals';
import { measureParts } from './parts';
import { measureBench } from './measure';
import { measureVoices } from './voices';

const PORT = 4427;

async function withServer<T>(work: (origin: string) => Promise<T>): Promise<T> {
  const server = spawn(
    process.execPath,
    ['node_modules/next/dist/bin/next', 'start', '--hostname', '127.0.0.1', '--port', String(PORT)],
    { stdio: ['ignore', 'pipe', 'inherit'], env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } },
  );
  try {
    await new Promise<void>((resolve, reject) => {
      server.stdout.on('data', (chunk: Buffer) => /ready/i.test(String(chunk)) && resolve());
      server.on('exit', (code) => reject(new Error(`the server ended with ${code}`)));
    });
    return await work(`http://127.0.0.1:${PORT}/`);
  } finally {
    server.kill();
  }
}

/** The nine goals come first, and alone with `--goals` or `--json`; then the desk's own figures. */
const goals = await measureGoals();
const json = process.argv.includes('--json');
const desk =
  json || process.argv.includes('--goals')
    ? {}
    : {
        core: measureCore(),
        parts: measureParts(),
        voices: measureVoices(),
        measure: await measureBench(),
        drag: await withServer(measureDrag),
      };
if (json) console.log(JSON.stringify(goals, null, 2));
else {
  for (const [name, { says, figure, goal, met }] of Object.entries(goals))
    console.log(`${name.padEnd(3)} ${met ? 'met    ' : 'NOT MET'} ${figure ?? 'not measured'} (goal ${goal}): ${says}`);
  for (const [group, values] of Object.entries(desk))
    for (const [name, value] of Object.entries(values)) console.log(`${group}: ${name}: ${value}`);
}
