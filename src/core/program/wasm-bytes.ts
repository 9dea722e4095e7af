/**
 * The few pieces of the WebAssembly binary format (W3C WebAssembly Core Specification 2.0, chapter 5) that the emitter
 * needs.
 */

export const F64 = 0x7c;
export const I32 = 0x7f;
export const V128 = 0x7b;

/** Bytes that grow. */
export class Bytes {
  private data = new Uint8Array(1024);
  length = 0;

  byte(...values: number[]): this {
    if (this.length + values.length > this.data.length) {
      const wider = new Uint8Array(2 * (this.length + values.length));
      wider.set(this.data.subarray(0, this.length));
      this.data = wider;
    }
    for (const value of values) this.data[this.length++] = value;
    return this;
  }

  /** Unsigned LEB128. */
  unsigned(value: number): this {
    let rest = value;
    while (rest >= 128) {
      this.byte((rest % 128) | 128);
      rest = Math.floor(rest / 128);
    }
    return this.byte(rest);
  }

  /** Signed LEB128, 32 bits and fewer. */
  signed(value: number): this {
    let rest = value;
    for (;;) {
      const low = rest & 127;
      rest >>= 7;
      if ((rest === 0 && (low & 64) === 0) || (rest === -1 && (low & 64) !== 0)) return this.byte(low);
      this.byte(low | 128);
    }
  }

  double(value: number): this {
    return this.byte(...new Uint8Array(Float64Array.of(value).buffer));
  }

  append(other: Bytes): this {
    return this.raw(other.view());
  }

  raw(values: Uint8Array): this {
    if (this.length + values.length > this.data.length) {
      const wider = new Uint8Array(2 * (this.length + values.length));
      wider.set(this.data.subarray(0, this.length));
      this.data = wider;
    }
    this.data.set(values, this.length);
    this.length += values.length;
    return this;
  }

  copy(): Uint8Array<ArrayBuffer> {
    return this.data.slice(0, this.length);
  }

  view(): Uint8Array {
    return this.data.subarray(0, this.length);
  }
}

export interface WasmFunction {
  readonly name: string;
  readonly parameters: readonly number[];
  /** Types of the locals after the parameters. */
  readonly locals: readonly number[];
  /** Instructions, without the closing `end`. */
  readonly body: Bytes;
}

const section = (id: number, content: Bytes): Bytes => new Bytes().byte(id).unsigned(content.length).append(content);

function text(bytes: Bytes, name: string): Bytes {
  bytes.unsigned(name.length);
  for (const letter of name) bytes.byte(letter.charCodeAt(0));
  return bytes;
}

/** A module that imports one memory, `host.memory`, and exports functions that return nothing. */
export function moduleOf(functions: readonly WasmFunction[]): Uint8Array<ArrayBuffer> {
  const [types, imported, declared, exported, code] = Array.from({ length: 5 }, () => new Bytes());
  const count = functions.length;
  for (const bytes of [types, declared, exported, code]) bytes.unsigned(count);
  text(text(imported.unsigned(1), 'host'), 'memory').byte(0x02, 0x00, 0x01);
  functions.forEach(({ name, parameters, locals, body }, f) => {
    types
      .byte(0x60)
      .unsigned(parameters.length)
      .byte(...parameters)
      .unsigned(0);
    declared.unsigned(f);
    text(exported, name).byte(0x00).unsigned(f);
    const content = new Bytes();
    const runs: [number, number][] = [];
    for (const type of locals) {
      const last = runs.at(-1);
      if (last?.[1] === type) last[0]++;
      else runs.push([1, type]);
    }
    content.unsigned(runs.length);
    for (const [times, type] of runs) content.unsigned(times).byte(type);
    content.append(body).byte(0x0b);
    code.unsigned(content.length).append(content);
  });
  return new Bytes()
    .byte(0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00)
    .append(section(1, types))
    .append(section(2, imported))
    .append(section(3, declared))
    .append(section(7, exported))
    .append(section(10, code))
    .copy();
}
