'use client';

import { Button } from 'antd';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { playKey } from '@/store/live-sound';
import styles from './listen.module.css';

/** Keys of a computer as those of a piano from C on: the row of letters white, those above them black. */
const LETTERS = 'awsedftgyhujkolp';
const KEYS = LETTERS.length;
const BLACK = new Set([1, 3, 6, 8, 10, 13, 15]);
const LOWEST_OCTAVE = 1;
const HIGHEST_OCTAVE = 6;
const LOUD = 127;
const hertzOf = (midi: number): number => 440 * 2 ** ((midi - 69) / 12);

const classOf = (k: number, isDown: boolean): string =>
  [styles.key, ...(BLACK.has(k) ? [styles.black] : []), ...(isDown ? [styles.down] : [])].join(' ');

/** One voice: the last note that is held sounds, and the one beneath it again when it is let go. */
function useNotes() {
  const [down, setDown] = useState<readonly number[]>([]);
  const held = useRef<number[]>([]);
  const strike = (note: number, level = 1) => {
    held.current = [...held.current.filter((n) => n !== note), note];
    setDown(held.current);
    playKey(hertzOf(note), level);
  };
  const letGo = (note: number) => {
    held.current = held.current.filter((n) => n !== note);
    setDown(held.current);
    const last = held.current[held.current.length - 1];
    playKey(last === undefined ? null : hertzOf(last));
  };
  const letAllGo = () => held.current.slice().forEach(letGo);
  return { down, strike, letGo, letAllGo };
}
type Notes = Pick<ReturnType<typeof useNotes>, 'strike' | 'letGo'>;

/** Notes from MIDI keyboards, once they are asked for, and what became of that. */
function useMidi(notes: Notes) {
  const [said, say] = useState<string | null>(null);
  const now = useRef(notes);
  useEffect(() => {
    now.current = notes;
  });
  const onMessage = ({ data }: MIDIMessageEvent) => {
    if (!data) return;
    const [status, note, velocity] = data;
    if ((status & 0xf0) === 0x90 && velocity > 0) now.current.strike(note, velocity / LOUD);
    else if ((status & 0xe0) === 0x80) now.current.letGo(note);
  };
  const listen = async () => {
    if (!('requestMIDIAccess' in navigator))
      return say('This browser knows no MIDI; the computer’s keys play as well.');
    try {
      const inputs = [...(await navigator.requestMIDIAccess()).inputs.values()];
      for (const input of inputs) input.onmidimessage = onMessage;
      const names = inputs.map((i) => i.name ?? 'a keyboard').join(', ');
      say(names ? `Plays from ${names}.` : 'No MIDI keyboard is plugged in; plug one in and ask again.');
    } catch {
      say('MIDI was refused. Allow it for this page in the browser, or play from the computer’s keys.');
    }
  };
  return { said, listen };
}

/** A keyboard for what sounds: by pointer, by the computer's keys while it has the focus, by MIDI. */
export function Keys({ sounding }: { sounding: boolean }) {
  const [octave, setOctave] = useState(2);
  const notes = useNotes();
  const { said, listen } = useMidi(notes);
  return (
    <div data-testid="keys">
      <div className="listen-row">
        <Button size="small" disabled={octave <= LOWEST_OCTAVE} onClick={() => setOctave(octave - 1)}>
          octave down
        </Button>
        <Button size="small" disabled={octave >= HIGHEST_OCTAVE} onClick={() => setOctave(octave + 1)}>
          octave up
        </Button>
        <Button size="small" onClick={() => void listen()}>
          Use a MIDI keyboard
        </Button>
        <span className="reason quiet" role="status">
          {said ?? (sounding ? `From C${octave}: click here, then A W S E D … play.` : 'Sound it first, then play.')}
        </span>
      </div>
      <Keyboard octave={octave} {...notes} />
    </div>
  );
}

function Keyboard({ octave, down, strike, letGo, letAllGo }: { octave: number } & ReturnType<typeof useNotes>) {
  const noteOf = (k: number) => 12 * (octave + 1) + k;
  const onKey = (e: KeyboardEvent, isDown: boolean) => {
    const k = LETTERS.indexOf(e.key.toLowerCase());
    if (k < 0 || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    if (isDown && !e.repeat) strike(noteOf(k));
    if (!isDown) letGo(noteOf(k));
  };
  return (
    <div
      className={styles.keys}
      role="group"
      tabIndex={0}
      aria-label={`Keys from C${octave}: letters A to P play`}
      onKeyDown={(e) => onKey(e, true)}
      onKeyUp={(e) => onKey(e, false)}
      onBlur={letAllGo}
    >
      {Array.from({ length: KEYS }, (_, k) => (
        <button
          key={k}
          type="button"
          tabIndex={-1}
          aria-label={`Key ${LETTERS[k].toUpperCase()}`}
          className={classOf(k, down.includes(noteOf(k)))}
          onPointerDown={() => strike(noteOf(k))}
          onPointerUp={() => letGo(noteOf(k))}
          onPointerLeave={() => down.includes(noteOf(k)) && letGo(noteOf(k))}
        >
          {LETTERS[k].toUpperCase()}
        </button>
      ))}
    </div>
  );
}
