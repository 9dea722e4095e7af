import { decibels } from '../../units/quantity';
import { WORKSHOP_CARD } from '../../measure/card';
import type { Sweep } from '../../measure/sweep';
import { naturalFrequencies } from '../../analysis/roots/poles';
import { success, type Result } from '../../result';
import type { AcSolver } from '../../analysis/ac/solver';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { strains } from '../desk/op-amp-strain';
import { builtVariant } from '../reading/built-variant';
import { swingRoom } from '../../device/op-amps';
import * as z from 'zod';
import { probesOf } from './probes';
import type { Design } from '../../design/document/schema';

const planRequest = requestOf('measure-plan', { ...ofVariant, rateHz: z.number().positive().max(768_000) });
type PlanRequest = z.infer<typeof planRequest>;

export interface MeasurePlan {
  readonly sweep: Sweep;
  /** Why its level is no higher: the stage that would clip first, by its name; null: the card itself. */
  readonly clipsFirst: string | null;
  readonly places: readonly { readonly id: string; readonly name: string }[];
  /** Whether anything bends, so that the level is a part of what is measured. */
  readonly bends: boolean;
}

/** What a card can do: its lowest tone, and its highest as a share of its rate. */
const LOWEST_HZ = 5;
const HIGHEST_SHARE = 0.46;
const AUDIO: readonly [number, number] = [20, 20e3];
/** Turns at the lowest corner that a sweep gives it, for every unit of its Q. */
const TURNS = 30;
const SECONDS: readonly [number, number] = [2, 10];
/** Left under full scale, and under a stage's swing, dB. */
const MARGIN_DB = 6;

/**
 * The sweep that suits a circuit: from a decade under its lowest corner to a decade over its highest as far as the card
 * goes, longer where a low corner or a high Q asks for it, as loud as the stage that clips first and the card allow.
 */
function measurePlan({ design, variantId, rateHz }: PlanRequest, solver: AcSolver): Result<MeasurePlan> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { variant, circuit, ways, live } = built.value;
  const stages = ways.flatMap((w) => w.stages).filter((s) => !s.stage.bypassed);
  const corners = stages.flatMap((s) => s.cornersHz).filter((f) => f > 0);
  const [low, high] = corners.length > 0 ? [Math.min(...corners), Math.max(...corners)] : [1000, 1000];
  const top = HIGHEST_SHARE * rateHz;
  const fromHz = round(Math.min(AUDIO[0], Math.max(LOWEST_HZ, low / 10)));
  const toHz = round(Math.min(top, Math.max(AUDIO[1], high * 10)));
  const natural = naturalFrequencies(circuit, 2 * Math.PI * Math.sqrt(low * high));
  const q = natural.reduce((m, p) => Math.max(m, Math.hypot(p.re, p.im) / Math.max(1e-9, 2 * Math.abs(p.re))), 0.5);
  const slowest = (TURNS * Math.min(q, 20)) / low;
  const seconds = Math.round(Math.min(SECONDS[1], Math.max(SECONDS[0], slowest)) * 10) / 10;
  const strained = live ? new Map() : strains(built.value, design.brief, natural, solver);
  let levelDbfs = -MARGIN_DB;
  let clipsFirst: string | null = null;
  for (const { stage, device } of stages) {
    const strain = strained.get(stage.id);
    if (!strain || !device) continue;
    const gain = strain.volts / (design.brief.signalVolts * Math.SQRT2);
    const most = decibels(swingRoom(design.brief, device) / gain / WORKSHOP_CARD.fullScaleVolts) - MARGIN_DB;
    // What the card records is no louder than full scale either.
    const recorded = -decibels(Math.max(1, gain)) - MARGIN_DB;
    const own = Math.min(most, recorded);
    if (own < levelDbfs) {
      levelDbfs = own;
      clipsFirst = most < recorded ? stageName(design, stage.id) : null;
    }
  }
  if (live)
    levelDbfs = Math.min(levelDbfs, decibels((design.brief.signalVolts * Math.SQRT2) / WORKSHOP_CARD.fullScaleVolts));
  return success({
    sweep: { fromHz, toHz, seconds, rateHz, levelDbfs: Math.max(-60, Math.floor(levelDbfs)) },
    clipsFirst,
    places: probesOf(design, variant, built.value).map(({ id, name }) => ({ id, name })),
    bends: live !== null,
  });
}

const stageName = ({ variants }: Design, stageId: string): string => {
  for (const way of variants.flatMap((v) => v.ways)) {
    const at = way.stages.findIndex((s) => s.id === stageId);
    if (at >= 0) return `stage ${at + 1}`;
  }
  return '';
};

const round = (hz: number): number => Number(hz.toPrecision(3));

export const measurePlanJob = defineJob(planRequest, (request, { solver }) => measurePlan(request, solver));
