'use client';

import { Segmented } from 'antd';
import { findTopology } from '@/core/topology/index';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { setView, useView, VOICE_VIEWS, type VoiceView } from '@/store/view';
import { AtRest } from './at-rest';
import { Chain } from './chain';
import { Control } from './control';
import { Forms } from './forms';
import { Level } from './level';
import { Loop } from './loop';
import { PhotocellPanel } from './photocell';
import { Song } from './song';

const VIEWS: Record<VoiceView, { name: string; pane: () => React.ReactNode }> = {
  control: {
    name: 'Control',
    pane: () => (
      <>
        <Chain />
        <Control />
        <Song />
      </>
    ),
  },
  forms: { name: 'Forms', pane: () => <Forms /> },
  loop: { name: 'Loop', pane: () => <Loop /> },
  level: { name: 'Level', pane: () => <Level /> },
  rest: { name: 'Rest', pane: () => <AtRest /> },
  cell: { name: 'Cell', pane: () => <PhotocellPanel /> },
};

/**
 * Of circuits that a voltage, a lamp or a pedal moves: what the control does, and what is to be known of them besides.
 */
export function Voice() {
  const variant = useDesign(currentVariantOf);
  const asked = useView((s) => s.voiceView);
  const topologies = variant.ways.flatMap((w) => w.stages.flatMap((s) => findTopology(s.topology) ?? []));
  const voiced = topologies.some((t) => t.family === 'voltage-controlled');
  const several = topologies.some((t) => t.role === 'network' && t.modes.length > 1);
  if (!voiced && !several) return null;
  const celled = topologies.some((t) => t.role === 'network' && t.celled);
  const there = VOICE_VIEWS.filter((v) => (v === 'cell' ? celled : v === 'forms' ? several : voiced));
  const view = there.includes(asked) ? asked : there[0];
  return (
    <>
      {there.length > 1 && (
        <Segmented
          className="voice-views"
          size="small"
          block
          aria-label="What is shown of the voice"
          value={view}
          onChange={(value) => setView({ voiceView: value })}
          options={there.map((value) => ({ value, label: VIEWS[value].name }))}
        />
      )}
      {VIEWS[view].pane()}
    </>
  );
}
