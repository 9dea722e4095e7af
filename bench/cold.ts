import { AcSolver } from '../src/core/analysis/ac/solver';
import { logGrid } from '../src/core/math/grid';
import { must } from '../src/core/result';
import { opAmpCascade } from '../src/core/testing/circuits';

/** In a process of its own, where nothing has run yet: milliseconds from netlist to the first 400-point curve. */
const start = performance.now();
const { circuit, output } = opAmpCascade(Number(process.argv[2]));
must(new AcSolver().sweep(circuit, logGrid(20, 20e3, 400), [output]));
console.log(performance.now() - start);
