/** An expected failure is a value: what went wrong, as a code with the facts; the interface owns the wording. */
export type Failure<Code extends string = string> = {
  readonly ok: false;
  readonly code: Code;
  readonly data: Readonly<Record<string, string | number | boolean | readonly string[]>>;
};
export type Success<T> = { readonly ok: true; readonly value: T };
export type Result<T, Code extends string = string> = Success<T> | Failure<Code>;

export const success = <T>(value: T): Success<T> => ({ ok: true, value });
export const failure = <Code extends string>(code: Code, data: Failure['data'] = {}): Failure<Code> => ({
  ok: false,
  code,
  data,
});

/** Takes the value of a result that the caller knows cannot have failed; misuse throws. */
export function must<T>(result: Result<T>): T {
  if (!result.ok) throw new Error(`unexpected failure ${result.code} ${JSON.stringify(result.data)}`);
  return result.value;
}

/** What was thrown, in one line of words. */
export const reasonOf = (thrown: unknown): string =>
  (thrown instanceof Error ? thrown.message : String(thrown)).split('\n')[0];
