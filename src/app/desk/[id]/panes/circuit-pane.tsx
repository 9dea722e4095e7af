'use client';

import { Circuit } from '@/features/circuit/circuit';
import { Voice } from '@/features/voice/voice';
import { OrdersPanel } from '@/features/speaker/orders-panel';

export default function CircuitPane() {
  return (
    <>
      <Circuit>
        <Voice />
      </Circuit>
      <OrdersPanel />
    </>
  );
}
