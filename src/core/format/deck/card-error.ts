import { evaluateExpression, ExpressionError } from './expression';

/** What is wrong with a deck, and on which of its lines. */
export class CardError extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message);
  }
}

/** Evaluates an expression, bare or in braces or quotes; what is wrong with it becomes a CardError of that line. */
export function evaluateOnLine(
  text: string,
  line: number,
  lookup: (name: string) => number | undefined,
  before = '',
): number {
  try {
    return evaluateExpression(text.replace(/^\{(.*)\}$/s, '$1').replace(/^'(.*)'$/s, '$1'), lookup);
  } catch (error) {
    if (error instanceof ExpressionError) throw new CardError(line, `${before}${error.message}`);
    throw error;
  }
}
