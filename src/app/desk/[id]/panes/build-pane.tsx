'use client';

import { Build } from '@/features/build/build';
import { SpeakerBuild } from '@/features/speaker/speaker-build';

export default function BuildPane() {
  return (
    <>
      <Build />
      <SpeakerBuild />
    </>
  );
}
