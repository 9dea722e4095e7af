'use client';

import { FitPanel } from '@/features/speaker/fit-panel';
import { NotchPanel } from '@/features/speaker/notch-panel';
import { BankTable } from '@/features/bank/bank-table';
import { Values } from '@/features/values/values';
import { CoilFromWire } from '@/features/speaker/coil-from-wire';
import { CoilsPanel } from '@/features/speaker/coils-panel';
import { BesidePanel } from '@/features/speaker/beside-panel';
import { HeatPanel } from '@/features/speaker/heat-panel';
import { Checks } from '@/features/checks/checks';

export default function ValuesPane() {
  return (
    <>
      <FitPanel />
      <NotchPanel />
      <BankTable />
      <Values />
      <CoilsPanel />
      <CoilFromWire />
      <HeatPanel />
      <BesidePanel />
      <Checks />
    </>
  );
}
