/** Names with their values, over those of a surrounding scope, which they may hide but never change. */
export class Layered<Value> {
  private readonly own = new Map<string, Value>();

  constructor(private readonly outer: Layered<Value> | null = null) {}

  get(name: string): Value | undefined {
    return this.own.has(name) ? this.own.get(name) : this.outer?.get(name);
  }

  set(name: string, value: Value): void {
    this.own.set(name, value);
  }
}
