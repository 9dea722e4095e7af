/**
 * The one door between a circuit's equations and whatever solves them. A kernel belongs to a structure; values come with each call,
 * so that dragging, spread draws and controls write values only. Kernels are interchangeable: dense reference, plan replay, compiled code.
 */
export interface AcKernel {
  /**
   * Solves (G + jωC) x = b at every frequency for the AC sources of the circuit.
   * @param values value slots of the structure
   * @param frequenciesHz any order, length m
   * @param unknowns which unknowns to keep, length k
   * @returns interleaved re, im: k rows of m points (length 2·k·m). Not-a-number where the system has no solution.
   */
  solve(values: Float64Array, frequenciesHz: Float64Array, unknowns: Int32Array): Float64Array;
}
