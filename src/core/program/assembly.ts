import type { Bytes } from './wasm-bytes';

/** Instructions that are written by name (WebAssembly Core Specification 2.0, chapters 4 and 5). */
const OPS = {
  loop: [0x03, 0x40],
  if: [0x04, 0x40],
  end: [0x0b],
  /** Back to the innermost loop. */
  again: [0x0d, 0x00],
  select: [0x1b],
  not: [0x45],
  less: [0x48],
  lessUnsigned: [0x49],
  atMost: [0x65],
  plus: [0x6a],
  both: [0x71],
  shiftLeft: [0x74],
  add: [0xa0],
  greater: [0xa5],
  /** One number in both lanes. */
  twice: [0xfd, 0x14],
  absolute2: [0xfd, 0xec, 0x01],
  add2: [0xfd, 0xf0, 0x01],
  subtract2: [0xfd, 0xf1, 0x01],
  multiply2: [0xfd, 0xf2, 0x01],
  minimum2: [0xfd, 0xf4, 0x01],
  maximum2: [0xfd, 0xf5, 0x01],
} as const;

/** Code that is written by hand around what the emitter writes: memory by offset, locals by number. */
export class Assembly {
  constructor(readonly body: Bytes) {}

  do(...ops: (keyof typeof OPS)[]): this {
    for (const op of ops) this.body.byte(...OPS[op]);
    return this;
  }

  get(local: number): this {
    this.body.byte(0x20).unsigned(local);
    return this;
  }
  set(local: number): this {
    this.body.byte(0x21).unsigned(local);
    return this;
  }
  number(value: number): this {
    this.body.byte(0x44).double(value);
    return this;
  }
  integer(value: number): this {
    this.body.byte(0x41).signed(value);
    return this;
  }
  /** The same number in both lanes. */
  numbers(value: number): this {
    this.body.byte(0xfd, 0x0c).double(value).double(value);
    return this;
  }
  /** One lane of two. */
  lane(index: 0 | 1): this {
    this.body.byte(0xfd, 0x21, index);
    return this;
  }

  load(offset: number): this {
    return this.integer(0).loadAt(offset);
  }
  /** Of the address on the stack, and so many bytes on. */
  loadAt(offset: number): this {
    this.body.byte(0x2b, 0x03).unsigned(offset);
    return this;
  }
  save(offset: number, value: () => void): this {
    this.integer(0);
    value();
    return this.saveAt(offset);
  }
  saveAt(offset: number): this {
    this.body.byte(0x39, 0x03).unsigned(offset);
    return this;
  }
  load2(offset: number): this {
    this.integer(0).body.byte(0xfd, 0x00, 0x03).unsigned(offset);
    return this;
  }
  save2(offset: number, value: () => void): this {
    this.integer(0);
    value();
    this.body.byte(0xfd, 0x0b, 0x03).unsigned(offset);
    return this;
  }

  /** One more in a counter. */
  count(offset: number): this {
    return this.save(offset, () => this.load(offset).number(1).do('add'));
  }
}
