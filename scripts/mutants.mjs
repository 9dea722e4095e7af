import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ts from 'typescript';
import { ensurePackages, root } from './setup.mjs';

/**
 * A mutation run over the glue: operators, constants and conditions of chosen files are turned over one at a time, and
 * the file's own tests run; what they let through is reported. `npm run mutants [-- --most 20] [FILE …]`.
 * In a copy of the checkout: nothing of it is touched.
 */
const GLUE = {
  'src/store/measuring.ts': ['src/store/measuring.test.ts'],
  'src/store/sound-card.ts': ['src/store/sound-card.test.ts'],
  'src/store/edits/record-edits.ts': ['src/store/edits/record-edits.test.ts', 'src/store/measuring.test.ts'],
  'src/store/edits/speaker-edits.ts': ['src/store/edits/speaker-edits.test.ts', 'src/store/edits/many-ways.test.ts'],
  'src/store/shelf/driver-intake.ts': ['src/store/shelf/driver-intake.test.ts'],
  'src/store/edits/found-network.ts': ['src/store/edits/found-network.test.ts'],
  'src/store/edits/network-edits.ts': ['src/store/edits/network-edits.test.ts'],
  'src/store/shelf/autosave.ts': ['src/store/shelf/autosave.test.ts'],
  'src/store/shelf/shelf-rows.ts': ['src/store/shelf/shelf-rows.test.ts'],
  'src/store/share-link.ts': ['src/store/share-link.test.ts'],
  'src/store/questions/question.ts': ['src/store/questions/questions.test.ts'],
  'src/store/questions/long-job.ts': ['src/store/questions/questions.test.ts', 'src/store/questions/long-job.test.tsx'],
  'src/workers/job-lanes.ts': ['src/workers/job-lanes.test.ts'],
  'src/core/design/document/merge.ts': ['src/core/design/document/merge.test.ts'],
  'src/core/design/document/setting.ts': ['src/core/design/document/setting.test.ts'],
};
const TURNED = {
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '&&': '||',
  '||': '&&',
  '??': '&&',
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
};
const AT_ONCE = 2;
const SECONDS = 90;

const args = process.argv.slice(2);
const most = args.includes('--most') ? Number(args[args.indexOf('--most') + 1]) : 20;
const named = args.filter((a) => a in GLUE);
const files = named.length > 0 ? named : Object.keys(GLUE);

/** Everything in a file that can be turned over: where, and into what. */
function mutantsOf(path) {
  const text = readFileSync(join(root, path), 'utf8');
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const found = [];
  const put = (node, into) => {
    const line = source.getLineAndCharacterOfPosition(node.getStart()).line + 1;
    found.push({ path, line, from: node.getStart(), to: node.getEnd(), was: node.getText(), into });
  };
  const visit = (node) => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isInterfaceDeclaration(node)) return;
    if (ts.isBinaryExpression(node) && TURNED[node.operatorToken.getText()])
      put(node.operatorToken, TURNED[node.operatorToken.getText()]);
    if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false');
    if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true');
    if (ts.isNumericLiteral(node)) put(node, `(${node.getText()} + 1)`);
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      put(node, `(${node.operand.getText()})`);
    if (ts.isConditionalExpression(node))
      put(node, `(${node.condition.getText()} ? ${node.whenFalse.getText()} : ${node.whenTrue.getText()})`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  // Evenly over the file, the same ones every time.
  const stride = Math.max(1, found.length / most);
  return Array.from({ length: Math.min(most, found.length) }, (_, i) => found[Math.floor(i * stride)]);
}

/** A copy of what the tests need, with the packages of this one. */
function copyOf() {
  const place = mkdtempSync(join(tmpdir(), 'mutants-'));
  for (const part of ['src', 'cli', 'public', 'package.json', 'jest.config.mjs', 'tsconfig.json'])
    cpSync(join(root, part), join(place, part), { recursive: true });
  symlinkSync(join(root, 'node_modules'), join(place, 'node_modules'));
  return place;
}

/** Whether a file's tests fail, with a mutant in its place or as it is. */
function fails(place, { path, from = 0, to = 0, into = '' }) {
  const text = readFileSync(join(root, path), 'utf8');
  writeFileSync(join(place, path), text.slice(0, from) + into + text.slice(to));
  return new Promise((resolve) => {
    const jest = spawn(
      process.execPath,
      ['node_modules/jest/bin/jest.js', '--no-watchman', '--bail', '--silent', '--forceExit', ...GLUE[path]],
      { cwd: place, stdio: 'ignore' },
    );
    const late = setTimeout(() => jest.kill('SIGKILL'), SECONDS * 1000);
    jest.on('exit', (code) => {
      clearTimeout(late);
      writeFileSync(join(place, path), text);
      resolve(code !== 0);
    });
  });
}

ensurePackages();
const waiting = files.flatMap(mutantsOf);
const survivors = [];
const tally = new Map(files.map((file) => [file, { killed: 0, all: 0 }]));
const places = Array.from({ length: AT_ONCE }, copyOf);
const remove = () => places.forEach((place) => rmSync(place, { recursive: true, force: true }));
process.on('SIGINT', () => {
  remove();
  process.exit(130);
});
for (const path of files)
  if (await fails(places[0], { path })) {
    remove();
    console.error(`${GLUE[path].join(', ')} fail as they are: mend that first.`);
    process.exit(1);
  }
await Promise.all(
  places.map(async (place) => {
    for (let mutant = waiting.shift(); mutant; mutant = waiting.shift()) {
      const killed = await fails(place, mutant);
      const own = tally.get(mutant.path);
      own.all++;
      if (killed) own.killed++;
      else survivors.push(mutant);
    }
  }),
);
remove();
const [killed, all] = [...tally.values()].reduce(([k, a], t) => [k + t.killed, a + t.all], [0, 0]);
for (const [file, t] of tally) console.log(`${String(t.killed).padStart(3)} of ${String(t.all).padStart(3)}  ${file}`);
for (const { path, line, was, into } of survivors)
  console.log(`survived ${path}:${line}: ${was.slice(0, 60)} → ${into.slice(0, 60)}`.replace(/\s+/g, ' '));
console.log(`${killed} of ${all} killed, ${((100 * killed) / Math.max(1, all)).toFixed(0)} %`);
mkdirSync(join(root, 'test-results'), { recursive: true });
writeFileSync(
  join(root, 'test-results', 'mutants.json'),
  JSON.stringify({ killed, all, files: Object.fromEntries(tally), survivors }, null, 2),
);
