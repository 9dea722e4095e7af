import type { Graph, Node, Op } from './graph';
import { emitExponential, emitExponentialPair, emitLogarithm } from './emit-functions';
import { F64, I32, V128, type Bytes, type WasmFunction } from './wasm-bytes';

/** One number at a time, or two side by side. */
export type Lanes = 1 | 2;

const SIMD = 0xfd;
const SCALAR: Partial<Record<Op, number>> = {
  add: 0xa0,
  subtract: 0xa1,
  multiply: 0xa2,
  divide: 0xa3,
  negate: 0x9a,
  absolute: 0x99,
  minimum: 0xa4,
  maximum: 0xa5,
  squareRoot: 0x9f,
};
const VECTOR: Partial<Record<Op, number>> = {
  add: 0xf0,
  subtract: 0xf1,
  multiply: 0xf2,
  divide: 0xf3,
  negate: 0xed,
  absolute: 0xec,
  minimum: 0xf4,
  maximum: 0xf5,
  squareRoot: 0xef,
};

/**
 * Where a number is found: a fixed address, moved on by a local of the function (a loop's pointer) when there is one.
 */
export interface Place {
  readonly offset: number;
  readonly pointer?: number;
}

/**
 * A number to be put away: `pair` takes the real and imaginary parts and writes them interleaved, two points at a time.
 */
export type Store =
  { readonly node: Node; readonly at: Place } | { readonly pair: readonly [Node, Node]; readonly at: Place };

export interface BlockRequest {
  readonly graph: Graph;
  readonly lanes: Lanes;
  /** Nodes of this stage are computed here; those of lower stages are read from where earlier blocks left them. */
  readonly stage: number;
  readonly stores: readonly Store[];
  /** Where the inputs of this stage lie. */
  input(index: number): Place;
  /** The address that holds a node of a lower stage. */
  cell(node: Node): number;
  /**
   * The address of 16 bytes that hold a constant twice. With it, exponentials that do not wait for one another are
   * computed two by two.
   */
  constant?(value: number): number;
}

const nodesOf = (store: Store): readonly Node[] => ('pair' in store ? store.pair : [store.node]);

/** Gives out locals of a function and takes them back, so that a long block needs few. */
export class Locals {
  readonly types: number[] = [];
  private readonly free = new Map<number, number[]>();

  constructor(private readonly first: number) {}

  take(type: number): number {
    const known = this.free.get(type)?.pop();
    if (known !== undefined) return known;
    this.types.push(type);
    return this.first + this.types.length - 1;
  }

  give(local: number): void {
    const type = this.types[local - this.first];
    const list = this.free.get(type);
    if (list) list.push(local);
    else this.free.set(type, [local]);
  }
}

/**
 * Emits one stage of a graph as straight-line code. What is used once stands where it is used; what is used more often
 * is kept in a local until its last use.
 */
export function emitBlock(request: BlockRequest, body: Bytes, locals: Locals): void {
  new Block(request, body, locals).emit();
}

type Statement = Node | [Node, Node] | Store;

class Block {
  private readonly uses = new Map<Node, number>();
  private readonly local = new Map<Node, number>();
  private readonly type: number;
  private temporaries: readonly number[] | null = null;

  constructor(
    private readonly request: BlockRequest,
    private readonly body: Bytes,
    private readonly locals: Locals,
  ) {
    this.type = request.lanes === 2 ? V128 : F64;
  }

  private own(node: Node): boolean {
    const { graph, stage } = this.request;
    return graph.stages[node] === stage && !graph.isConstant(node) && graph.op(node) !== 'input';
  }

  emit(): void {
    const { stores } = this.request;
    const order: Node[] = [];
    const count = (node: Node): void => {
      const before = this.uses.get(node) ?? 0;
      this.uses.set(node, before + 1);
      if (before > 0 || !this.own(node)) return;
      for (const argument of this.request.graph.argumentsOf(node)) count(argument);
      order.push(node);
    };
    for (const store of stores) for (const node of nodesOf(store)) count(node);
    const { early, pairs } = this.exponentialPairs(order);
    for (const pair of pairs) for (const node of pair) this.uses.set(node, Math.max(2, this.uses.get(node) as number));
    const paired = new Set(pairs.flat());
    const kept = order.filter((node) => (this.uses.get(node) as number) > 1 && !paired.has(node)).sort((a, b) => a - b);
    // A number is put away as soon as it is known.
    const ready = new Map<Node, Store[]>();
    const late: Store[] = [];
    for (const store of stores) {
      const last = Math.max(...nodesOf(store).filter((n) => this.own(n) && (this.uses.get(n) as number) > 1));
      if (Number.isFinite(last) && nodesOf(store).every((n) => !this.own(n) || (this.uses.get(n) as number) > 1))
        ready.set(last, [...(ready.get(last) ?? []), store]);
      else late.push(store);
    }
    const withStores = (node: Node): Statement[] => [node, ...(ready.get(node) ?? [])];
    const program: Statement[] = [
      ...kept.filter((node) => early.has(node)).flatMap(withStores),
      ...pairs.flatMap((pair) => [pair, ...pair.flatMap((node) => ready.get(node) ?? [])]),
      ...kept.filter((node) => !early.has(node)).flatMap(withStores),
      ...late,
    ];
    const lastUse = this.lastUses(program);
    program.forEach((statement, at) => {
      if (typeof statement === 'number') {
        this.compute(statement);
        this.release(lastUse, at);
        const local = this.locals.take(this.type);
        this.local.set(statement, local);
        this.body.byte(0x21).unsigned(local);
      } else if (Array.isArray(statement)) {
        this.computePair(statement);
        this.release(lastUse, at);
      } else {
        this.store(statement);
        this.release(lastUse, at);
      }
    });
    for (const local of this.temporaries ?? []) this.locals.give(local);
  }

  /**
   * Exponentials of which none waits for another, two by two, and all that their arguments need (which must come
   * first). An odd one out stays by itself.
   */
  private exponentialPairs(order: readonly Node[]): { early: Set<Node>; pairs: [Node, Node][] } {
    const early = new Set<Node>();
    const pairs: [Node, Node][] = [];
    if (!this.request.constant || this.request.lanes !== 1) return { early, pairs };
    const { graph } = this.request;
    const waits = new Map<Node, boolean>();
    const behind = (node: Node): boolean => {
      if (!this.own(node)) return false;
      let known = waits.get(node);
      if (known === undefined)
        waits.set(
          node,
          (known = graph.argumentsOf(node).some((a) => (this.own(a) && graph.op(a) === 'exponential') || behind(a))),
        );
      return known;
    };
    const free = order.filter((node) => graph.op(node) === 'exponential' && !behind(node));
    const need = (node: Node): void => {
      if (!this.own(node) || early.has(node)) return;
      early.add(node);
      graph.argumentsOf(node).forEach(need);
    };
    for (let i = 0; i + 1 < free.length; i += 2) pairs.push([free[i], free[i + 1]]);
    for (const node of pairs.flat()) graph.argumentsOf(node).forEach(need);
    return { early, pairs };
  }

  private computePair([first, second]: readonly [Node, Node]): void {
    const { body, locals } = this;
    const { graph, constant } = this.request;
    const vectors = [V128, V128, V128].map((type) => locals.take(type));
    this.push(graph.first[first]);
    body.byte(SIMD, 0x14);
    this.push(graph.first[second]);
    body.byte(SIMD, 0x22, 0x01);
    emitExponentialPair(body, vectors, constant as (value: number) => number);
    body.byte(0x21).unsigned(vectors[0]);
    [first, second].forEach((node, lane) => {
      const local = locals.take(F64);
      this.local.set(node, local);
      body.byte(0x20).unsigned(vectors[0]).byte(SIMD, 0x21, lane).byte(0x21).unsigned(local);
    });
    for (const local of vectors) locals.give(local);
  }

  private lastUses(program: readonly Statement[]): Map<number, Node[]> {
    const last = new Map<Node, number>();
    const touch = (node: Node, at: number): void => {
      if (!this.own(node)) return;
      if ((this.uses.get(node) as number) > 1) {
        last.set(node, at);
        return;
      }
      for (const argument of this.request.graph.argumentsOf(node)) touch(argument, at);
    };
    program.forEach((statement, at) => {
      if (typeof statement === 'number')
        for (const argument of this.request.graph.argumentsOf(statement)) touch(argument, at);
      else if (Array.isArray(statement)) for (const node of statement) touch(this.request.graph.first[node], at);
      else for (const node of nodesOf(statement)) touch(node, at);
    });
    const byStatement = new Map<number, Node[]>();
    for (const [node, at] of last) byStatement.set(at, [...(byStatement.get(at) ?? []), node]);
    return byStatement;
  }

  private release(lastUse: ReadonlyMap<number, Node[]>, at: number): void {
    for (const node of lastUse.get(at) ?? []) {
      this.locals.give(this.local.get(node) as number);
      this.local.delete(node);
    }
  }

  private address({ pointer }: Place): void {
    if (pointer === undefined) this.body.byte(0x41, 0x00);
    else this.body.byte(0x20).unsigned(pointer);
  }

  private store(store: Store): void {
    const { body } = this;
    const write = (offset: number) =>
      (this.request.lanes === 2 ? body.byte(SIMD, 0x0b) : body.byte(0x39)).byte(0x03).unsigned(offset);
    if ('node' in store) {
      this.address(store.at);
      this.push(store.node);
      write(store.at.offset);
      return;
    }
    const halves = [
      [0, 16],
      [8, 24],
    ];
    halves.forEach(([first, second], half) => {
      this.address(store.at);
      for (const node of store.pair) this.push(node);
      body.byte(SIMD, 0x0d);
      for (const from of [first, second]) for (let b = 0; b < 8; b++) body.byte(from + b);
      write(store.at.offset + 16 * half);
    });
  }

  private push(node: Node): void {
    const { graph, lanes, stage } = this.request;
    const { body } = this;
    const known = this.local.get(node);
    if (known !== undefined) {
      body.byte(0x20).unsigned(known);
    } else if (graph.isConstant(node)) {
      if (lanes === 2) body.byte(SIMD, 0x0c).double(graph.numbers[node]).double(graph.numbers[node]);
      else body.byte(0x44).double(graph.numbers[node]);
    } else if (graph.stages[node] < stage) {
      body.byte(0x41, 0x00);
      (lanes === 2 ? body.byte(SIMD, 0x0a) : body.byte(0x2b)).byte(0x03).unsigned(this.request.cell(node));
    } else if (graph.op(node) === 'input') {
      const place = this.request.input(graph.third[node]);
      this.address(place);
      (lanes === 2 ? body.byte(SIMD, 0x00) : body.byte(0x2b)).byte(0x03).unsigned(place.offset);
    } else this.compute(node);
  }

  private compute(node: Node): void {
    const { graph, lanes } = this.request;
    const { body } = this;
    const op = graph.op(node);
    if (op === 'select') return this.select(node);
    for (const argument of graph.argumentsOf(node)) this.push(argument);
    if (op === 'exponential' || op === 'logarithm') {
      if (lanes === 2) throw new Error('exponentials are for one lane');
      this.temporaries ??= [F64, F64, F64].map((type) => this.locals.take(type));
      (op === 'exponential' ? emitExponential : emitLogarithm)(body, this.temporaries);
    } else if (lanes === 2) body.byte(SIMD).unsigned(VECTOR[op] as number);
    else body.byte(SCALAR[op] as number);
  }

  private select(node: Node): void {
    const { graph, lanes } = this.request;
    const { body } = this;
    this.push(graph.second[node]);
    this.push(graph.third[node]);
    this.push(graph.first[node]);
    if (lanes === 2) {
      for (const bytes of [[SIMD, 0x0c]])
        body
          .byte(...bytes)
          .double(0)
          .double(0);
      body.byte(SIMD, 0x4a).byte(SIMD, 0x52);
    } else body.byte(0x44).double(0).byte(0x64).byte(0x1b);
  }
}

/**
 * A function that runs a block over and over: `name(first, end, second)` moves the first pointer on until it reaches
 * `end`, and the second along with it.
 * @param strides bytes that each pointer moves a round.
 */
export function loopFunction(
  name: string,
  strides: readonly [number, number],
  body: Bytes,
  emit: (locals: Locals, pointers: readonly [number, number]) => void,
): WasmFunction {
  const pointers = [0, 2] as const;
  const locals = new Locals(3);
  body.byte(0x03, 0x40);
  emit(locals, pointers);
  strides.forEach((stride, i) =>
    body.byte(0x20).unsigned(pointers[i]).byte(0x41).signed(stride).byte(0x6a).byte(0x21).unsigned(pointers[i]),
  );
  body.byte(0x20, 0x00, 0x20, 0x01, 0x49, 0x0d, 0x00, 0x0b);
  return { name, parameters: [I32, I32, I32], locals: locals.types, body };
}
