import { copyVariant } from '@/core/design/making/copy-variant';
import type {
  Brief,
  Design,
  LogEntry,
  MaskLimit,
  Measurement,
  Preferences,
  Reading,
  Variant,
} from '@/core/design/document/schema';
import { currentVariantOf, type Edit } from './edits';
import { newId } from '../new-id';

/** Edits of what stands about the path: the brief, preferences, variants, measurements and the log. */

export const changeBrief =
  (patch: Partial<Brief>): Edit =>
  (draft) => {
    Object.assign(draft.brief, patch);
  };

export const addLimit =
  (limit: Omit<MaskLimit, 'id'>): Edit =>
  (draft) => {
    draft.brief.mask.push({ id: newId(), ...limit });
  };
export const changeLimit =
  (limitId: string, patch: Partial<Omit<MaskLimit, 'id'>>): Edit =>
  (draft) => {
    Object.assign(draft.brief.mask.find((l) => l.id === limitId) ?? {}, patch);
  };
export const removeLimit =
  (limitId: string): Edit =>
  (draft) => {
    draft.brief.mask = draft.brief.mask.filter((l) => l.id !== limitId);
  };

export const setTitle =
  (title: string): Edit =>
  (draft) => {
    draft.title = title;
  };
export const changePreferences =
  (patch: Partial<Preferences>): Edit =>
  (draft) => {
    Object.assign(draft.preferences, patch);
  };

/** The next free letter: A, B, C … */
export function nextVariantName(design: Design): string {
  const taken = new Set(design.variants.map((v) => v.name));
  for (let i = 0; i < 26; i++) if (!taken.has(String.fromCharCode(65 + i))) return String.fromCharCode(65 + i);
  return `${design.variants.length + 1}`;
}

export const addVariant = (): Edit => (draft) => {
  if (draft.variants.length >= 26) return;
  const source = JSON.parse(JSON.stringify(currentVariantOf(draft))) as Variant;
  const copy = copyVariant(source, newId(), nextVariantName(draft), source.label, newId);
  draft.variants.push(copy);
  draft.currentVariant = copy.id;
};
export const selectVariant =
  (variantId: string): Edit =>
  (draft) => {
    if (draft.variants.some((v) => v.id === variantId)) draft.currentVariant = variantId;
  };
export const labelVariant =
  (variantId: string, label: string): Edit =>
  (draft) => {
    const variant = draft.variants.find((v) => v.id === variantId);
    if (variant) variant.label = label;
  };
export const removeVariant =
  (variantId: string): Edit =>
  (draft) => {
    if (draft.variants.length < 2) return;
    draft.variants = draft.variants.filter((v) => v.id !== variantId);
    if (draft.currentVariant === variantId) draft.currentVariant = draft.variants[0].id;
  };

export const addMeasurement =
  (measurement: Omit<Measurement, 'id'>): Edit =>
  (draft) => {
    draft.measurements.push({ id: newId(), ...measurement });
  };
export const changeMeasurement =
  (id: string, patch: Partial<Pick<Measurement, 'name' | 'aligned'>>): Edit =>
  (draft) => {
    Object.assign(draft.measurements.find((m) => m.id === id) ?? {}, patch);
  };
export const removeMeasurement =
  (id: string): Edit =>
  (draft) => {
    draft.measurements = draft.measurements.filter((m) => m.id !== id);
  };

/** What a meter reads at a place of a board: it takes the place of what was read there before. */
export const setReading =
  (reading: Omit<Reading, 'id'>): Edit =>
  (draft) => {
    const { place, board, variant } = reading;
    clearReading(place, board, variant)(draft);
    (draft.readings ??= []).push({ id: newId(), ...reading });
  };
export const clearReading =
  (place: string, board: string, variant: string): Edit =>
  (draft) => {
    draft.readings = draft.readings?.filter((r) => r.place !== place || r.board !== board || r.variant !== variant);
    if (draft.readings?.length === 0) delete draft.readings;
  };

export const addLogEntry =
  (entry: Omit<LogEntry, 'id'>): Edit =>
  (draft) => {
    draft.log.unshift({ id: newId(), ...entry });
  };
export const changeLogEntry =
  (id: string, text: string): Edit =>
  (draft) => {
    Object.assign(draft.log.find((e) => e.id === id) ?? {}, { text });
  };
export const removeLogEntry =
  (id: string): Edit =>
  (draft) => {
    draft.log = draft.log.filter((e) => e.id !== id);
  };
