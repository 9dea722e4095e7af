import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { complex, divide, evaluate, magnitude, subtract, type Complex } from './complex';

/**
 * Roots of a real polynomial (coefficients lowest power first): eigenvalues of its companion matrix,
 * each polished by Newton steps on the polynomial itself. Good to about 1e-13 for well separated roots.
 */
export function polynomialRoots(coefficients: readonly number[]): Complex[] {
  const degree = coefficients.length - 1;
  if (degree < 1) return [];
  const lead = coefficients[degree];
  const companion = Matrix.zeros(degree, degree);
  for (let i = 0; i < degree; i++) {
    companion.set(i, degree - 1, -coefficients[i] / lead);
    if (i > 0) companion.set(i, i - 1, 1);
  }
  const eigen = new EigenvalueDecomposition(companion, { assumeSymmetric: false });
  const derivative = coefficients.slice(1).map((c, i) => c * (i + 1));
  return eigen.realEigenvalues.map((re, i) => {
    let root = complex(re, eigen.imaginaryEigenvalues[i]);
    for (let step = 0; step < 3; step++) {
      const slope = evaluate(derivative, root);
      if (magnitude(slope) === 0) break;
      root = subtract(root, divide(evaluate(coefficients, root), slope));
    }
    return root;
  });
}
