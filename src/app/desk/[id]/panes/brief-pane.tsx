'use client';

import { SpeakerBrief } from '@/features/speaker/speaker-brief';
import { BankBrief } from '@/features/bank/bank-brief';
import { Brief } from '@/features/brief/brief';
import { Checks } from '@/features/checks/checks';

export default function BriefPane() {
  return (
    <>
      <SpeakerBrief />
      <BankBrief />
      <Brief />
      <Checks />
    </>
  );
}
