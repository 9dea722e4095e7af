/** An error with the exit code of the contract: 2 bad usage or bad input, 3 no solution. */
export class CommandError extends Error {
  constructor(
    readonly exitCode: 2 | 3,
    message: string,
  ) {
    super(message);
  }
}
