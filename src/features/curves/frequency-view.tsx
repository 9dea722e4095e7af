'use client';

import { useMemo } from 'react';
import { ChartFrame, type Axis } from '@/ui/chart/chart-frame';
import type { DeskResult } from '@/core/jobs/desk/desk-types';
import { DESK } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { useComparison } from '@/store/curves/comparison';
import { useView } from '@/store/view';
import { useHeld } from './use-held';
import { delayAxis, differenceAxis, frequencyAxis, levelAxis, phaseAxis } from './axes';
import { CursorLayer } from './cursor';
import { CutoffHandles, StageHandles } from './handles';
import {
  BankTraces,
  BriefLimits,
  DelayTraces,
  DifferenceTrace,
  FamilyTraces,
  HeldBy,
  MatchTraces,
  LevelTraces,
  MarkLayer,
  PartMovesBand,
  PhaseTraces,
  SpreadBand,
} from './response-layers';

const PHASE_SHARE = 0.3;
/** px */
const NARROW_PX = 400;

/** Magnitude over phase, or group delay: frames that only move when their axes do. */
export function FrequencyView({ width, height }: { width: number; height: number }) {
  const kind = useView((s) => s.curveView);
  const desk = useLiveAnswer(DESK) as DeskResult;
  const dragging = useView((s) => s.dragging);
  const from = desk.freqHz[0];
  const to = desk.freqHz[desk.freqHz.length - 1];
  const x = useMemo(() => frequencyAxis(from, to), [from, to]);
  const level = useHeld(levelAxis(desk), dragging);
  const phase = useHeld(phaseAxis(desk), dragging);
  const delay = useHeld(delayAxis(desk), dragging);
  if (kind === 'delay')
    return (
      <ChartFrame width={width} height={height} x={x} y={delay} title="group delay, ms" xUnit="Hz">
        <DelayTraces />
        <CursorLayer />
      </ChartFrame>
    );
  if (kind === 'difference') return <DifferenceView width={width} height={height} x={x} />;
  // Beside a task that has most of the desk the level has all of its height.
  const lower = width < NARROW_PX ? 0 : Math.round(height * PHASE_SHARE);
  return (
    <>
      <ChartFrame
        width={width}
        height={height - lower}
        x={x}
        y={level}
        title="level, dB re 1 V at the source"
        bareX={lower > 0}
        xUnit="Hz"
      >
        {RESPONSE_LAYERS}
      </ChartFrame>
      {lower > 0 && (
        <ChartFrame width={width} height={lower} x={x} y={phase} title="phase" xUnit="Hz">
          {PHASE_LAYERS}
        </ChartFrame>
      )}
    </>
  );
}

/** One curve less another. */
function DifferenceView({ width, height, x }: { width: number; height: number; x: Axis }) {
  const comparison = useComparison();
  const dragging = useView((s) => s.dragging);
  const axis = useHeld(differenceAxis(comparison?.differenceDb ?? []), dragging);
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={axis}
      title={comparison ? `${comparison.first.name} less ${comparison.second.name}, dB` : 'difference, dB'}
      xUnit="Hz"
    >
      {DIFFERENCE_LAYERS}
    </ChartFrame>
  );
}

const DIFFERENCE_LAYERS = (
  <>
    <DifferenceTrace />
    <CursorLayer />
  </>
);
/** Made once, so that the memoised frames see the same children every time. */
const RESPONSE_LAYERS = (
  <>
    <BriefLimits />
    <SpreadBand />
    <PartMovesBand />
    <FamilyTraces />
    <MatchTraces />
    <BankTraces />
    <LevelTraces />
    <HeldBy />
    <CursorLayer snaps />
    <MarkLayer />
    <CutoffHandles />
    <StageHandles />
  </>
);
const PHASE_LAYERS = (
  <>
    <PhaseTraces />
    <CursorLayer />
  </>
);
