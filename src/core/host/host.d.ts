/** The only things the core takes from its host besides the language itself. */
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(input?: Uint8Array): string;
}
declare class TextEncoder {
  encode(input?: string): Uint8Array;
}
declare namespace WebAssembly {
  class Memory {
    constructor(descriptor: { initial: number });
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
  }
  class Instance {
    constructor(module: Module, imports: Record<string, Record<string, Memory>>);
    readonly exports: Record<string, unknown>;
  }
}
