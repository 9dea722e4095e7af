'use client';

import { Button } from 'antd';
import { useState } from 'react';
import { playSound } from '@/ui/audio';

interface Sound {
  readonly id: string;
  readonly name: string;
  readonly samples: Float32Array;
  readonly rateHz: number;
}

/** Two sounds at one level in an order that is not told: which is preferred is written down, and only then said. */
export function BlindTest({
  sounds,
  volume,
  onVerdict,
}: {
  sounds: readonly Sound[];
  volume: number;
  onVerdict: (winner: string, loser: string) => void;
}) {
  const [order, setOrder] = useState<readonly [number, number]>(() =>
    crypto.getRandomValues(new Uint8Array(1))[0] % 2 === 0 ? [0, 1] : [1, 0],
  );
  const [told, setTold] = useState<string | null>(null);
  const decide = (place: 0 | 1) => {
    const [winner, loser] = [sounds[order[place]], sounds[order[1 - place]]];
    onVerdict(winner.id, loser.id);
    setTold(`You preferred ${winner.name}. It is in the log.`);
  };
  const again = () => {
    setOrder(crypto.getRandomValues(new Uint8Array(1))[0] % 2 === 0 ? [0, 1] : [1, 0]);
    setTold(null);
  };
  return (
    <section className="panel" aria-label="Blind comparison" data-testid="blind">
      <h2>Blind, at one level</h2>
      <div className="listen-row">
        {([0, 1] as const).map((place) => (
          <Button
            key={place}
            onClick={() => void playSound(sounds[order[place]].samples, sounds[order[place]].rateHz, volume)}
          >
            Play the {place === 0 ? 'first' : 'second'}
          </Button>
        ))}
        {told === null &&
          ([0, 1] as const).map((place) => (
            <Button key={place} type="primary" onClick={() => decide(place)}>
              I prefer the {place === 0 ? 'first' : 'second'}
            </Button>
          ))}
        {told !== null && <Button onClick={again}>Again, shuffled</Button>}
      </div>
      <p className="reason" aria-live="polite">
        {told ?? 'Which is which is not told until you have said which you prefer.'}
      </p>
    </section>
  );
}
