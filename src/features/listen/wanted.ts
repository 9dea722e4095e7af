import { FIRST_SEQUENCE, type Move } from '@/core/design/document/played';
import type { Control, Design, Variant } from '@/core/design/document/schema';
import { withoutRecord } from '@/core/design/document/without-record';
import type { ListenRequest } from '@/core/jobs/sound/listen';
import type { Play } from '@/core/jobs/sound/player';
import type { SoundSource } from '@/core/jobs/sound/sound-source';
import type { PlayedAs } from '@/store/view';

/** A recording of one's own. */
export interface OwnSound {
  readonly name: string;
  readonly samples: Float32Array;
  readonly rateHz: number;
}
/** Of a recording of one's own, so much is played, s. */
export const OWN_S = 8;

export const CLEFS: readonly { readonly value: string; readonly label: string; readonly notesHz: number[] }[] = [
  { value: 'low', label: 'low, in steps', notesHz: [55, 82.5, 110, 73.4] },
  { value: 'middle', label: 'middle, in steps', notesHz: [110, 165, 220, 147] },
  { value: 'high', label: 'high, in steps', notesHz: [220, 330, 440, 294] },
  { value: 'one', label: 'one long note', notesHz: [110] },
];
const ONE_NOTE: readonly number[] = [110];
/** Rounds of a sequence that are rendered. */
const ROUNDS = 2;
const NO_MOVES: readonly Move[] = [];
/** No control is moved, or all drivers are heard. */
export const NO_CONTROL = 'none';
export const SUM = 'sum';

/** What is to be heard of a circuit, and how. */
export interface Wanted {
  readonly source: SoundSource | OwnSound;
  readonly clef: string;
  readonly noteS: number;
  /** Peak at the input. */
  readonly volts: number;
  /** The control that moves at every note; null: the first that a voltage moves. */
  readonly control: string | null;
  /** How it moves: of its travel, per cent, up and down. */
  readonly shape: { readonly depth: number; readonly attackS: number; readonly decayS: number };
  /** Of a crossover: one way by its name, or all. */
  readonly part: string;
  readonly looped: boolean;
}

export const FIRST_WANTED: Omit<Wanted, 'volts'> = {
  source: 'saw',
  clef: 'middle',
  noteS: 0.6,
  control: null,
  shape: { depth: 40, attackS: 0.008, decayS: 0.22 },
  part: SUM,
  looped: false,
};

export const isOwn = (source: Wanted['source']): source is OwnSound => typeof source === 'object';
export const notesOf = ({ clef }: Wanted): readonly number[] =>
  CLEFS.find((c) => c.value === clef)?.notesHz ?? ONE_NOTE;
/** Whether notes are played one after the other: a recording is one. */
export const isByNotes = ({ source }: Wanted, playedAs: PlayedAs): boolean => playedAs === 'notes' || isOwn(source);

/** The control that moves at every note. */
export const movedControl = (variant: Variant, { control }: Wanted): Control | undefined =>
  control === NO_CONTROL
    ? undefined
    : (variant.controls.find((c) => c.id === control) ?? variant.controls.find((c) => c.kind === 'cv'));

/** A variant's control that stands for one of another's: itself, or one of its name. */
const controlLike = (which: Variant, of: Variant, id: string): Control | undefined => {
  const name = of.controls.find((c) => c.id === id)?.name;
  return which.controls.find((c) => c.id === id || c.name === name);
};

const sequenceOf = ({ played }: Variant) => played?.sequence ?? FIRST_SEQUENCE;
export const movesOf = ({ played }: Variant): readonly Move[] => played?.moves ?? NO_MOVES;

/** What is played live. */
export function playOf(variant: Variant, playedAs: PlayedAs): Play {
  if (playedAs === 'sequence') return { kind: 'sequence', of: sequenceOf(variant) };
  return { kind: playedAs === 'keys' ? 'keys' : 'steady' };
}

/** What is asked for to hear one of a design's variants, moved as another's controls say. */
export function listenRequest(
  design: Design,
  which: Variant,
  variant: Variant,
  wanted: Wanted,
  playedAs: PlayedAs,
): ListenRequest {
  const { source, noteS, volts, shape, looped, part } = wanted;
  const byNotes = isByNotes(wanted, playedAs);
  const moved = movedControl(variant, wanted);
  const same = moved && controlLike(which, variant, moved.id);
  return {
    kind: 'listen',
    design: withoutRecord(design),
    variantId: which.id,
    ...(isOwn(source)
      ? {
          source: { samples: source.samples, rateHz: source.rateHz },
          notesHz: [1],
          noteS: looped ? OWN_S : Math.min(OWN_S, source.samples.length / source.rateHz),
        }
      : { source, notesHz: [...notesOf(wanted)], noteS }),
    ...(byNotes ? {} : { sequence: { of: sequenceOf(variant), rounds: ROUNDS } }),
    ...(looped ? { looped } : {}),
    moves: movesOf(variant).flatMap((move) => {
      const there = controlLike(which, variant, move.controlId);
      return there ? [{ ...move, controlId: there.id }] : [];
    }),
    volts,
    envelope:
      same && byNotes
        ? { controlId: same.id, depth: shape.depth / 100, attackS: shape.attackS, decayS: shape.decayS }
        : null,
    ...(which.join === 'acoustic' ? { part: which.ways.some((w) => w.name === part) ? { way: part } : SUM } : {}),
  };
}
