import type { Verb } from './options';

export const GENERAL_HELP = `reed: the computations of the desk, from a shell

  npm run -s reed -- response FILE.cir --from 20 --to 20k --points-per-decade 20
  npm run -s reed -- operating-point FILE.cir
  npm run -s reed -- transient FILE.cir --stop 10m --step 10u --probe out
  npm run -s reed -- noise FILE.cir --probe out --source Vin
  npm run -s reed -- poles FILE.cir --probe out
  npm run -s reed -- tolerance FILE.cir --runs 1000 --resistors 1 --capacitors 5
  npm run -s reed -- synth --response lowpass --alignment butterworth --order 4 --cutoff 1k
  npm run -s reed -- crossover --ways 2 --cutoff 2.5k --order 4
  npm run -s reed -- topologies
  npm run -s reed -- design --topology twin-t --set notchHz=60 --out notch.json
  npm run -s reed -- desk notch.json
  npm run -s reed -- deck notch.json --devices ideal
  npm run -s reed -- choose notch.json --how together
  npm run -s reed -- match --keep 1@..900 --lose 40@2k..
  npm run -s reed -- render notch.json --in dry.wav --out wet.wav
  npm run -s reed -- parts notch.json --boards 3

Results go to standard output, or to --out FILE. Exit 0 for success, 2 for bad usage or input,
3 where there is no solution.
VERB --help says more.
`;

export function helpFor(name: string, verb: Verb): string {
  const options = Object.entries(verb.describe).map(([option, text]) => `  --${option.padEnd(20)} ${text}`);
  return (
    `reed ${name}${verb.files > 0 ? ' FILE' : ''}: ` +
    `${verb.says}\n\n${[...options, '  --out FILE             write there instead of standard output'].join('\n')}\n`
  );
}
