'use client';

import type { DeskStage } from '@/core/jobs/desk-types';
import { topologyById } from '@/core/topology/index';
import { Schematic } from './schematic';
import { useDesign } from '@/store/document';

/** A stage's circuit with the values as chosen, in the symbols the maker prefers. */
export function StageSchematic({ facts, highlighted, onPoint }: { facts: DeskStage; highlighted: string | null; onPoint: (part: string | null) => void }) {
  const resistorSymbol = useDesign((d) => d.preferences.resistorSymbol);
  const topology = topologyById(facts.topology);
  const values = Object.fromEntries(facts.parts.map((p) => [p.name, p.chosen]));
  const leftOut = Object.fromEntries(facts.parts.filter((p) => p.leftOut).map((p) => [p.name, p.leaveOut]));
  return <Schematic drawing={topology.drawing(facts.target.response, values)} values={values} leftOut={leftOut} resistorSymbol={resistorSymbol} title={`Circuit of ${facts.name}: ${topology.name}`} highlighted={highlighted} onPoint={onPoint} />;
}
