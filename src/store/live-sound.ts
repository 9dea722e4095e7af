import type { Move } from '@/core/design/document/played';
import type { Play } from '@/core/jobs/sound/player';
import { reasonOf } from '@/core/result';
import { proxy, transfer, wrap, type Remote } from 'comlink';
import { create } from 'zustand';
import { withoutRecord } from '@/core/design/document/without-record';
import type { LiveRequest } from '@/core/jobs/sound/live-sound';
import { GLIDE_S, RATE_HZ } from '@/core/jobs/sound/rate';
import type { Failure } from '@/core/result';
import { WORKERS } from '@/workers/addresses';
import type { LiveSoundApi } from '@/workers/live-sound.worker';
import { documentStore } from './document';
import { currentVariantOf } from './edits/edits';
import { setSounding } from './questions/pace';

interface Live {
  readonly state: 'silent' | 'starting' | 'sounding';
  /** How often what lay ready ran out. */
  readonly gaps: number;
  /** How many steps under the best it is sounded, since the machine is busy. */
  readonly stepsDown: number;
  readonly playedS: number;
  readonly timesRealTime: number;
  readonly failed: Failure | null;
  /** What sounds is kept. */
  readonly recording: boolean;
}

const SILENT: Live = {
  state: 'silent',
  gaps: 0,
  stepsDown: 0,
  playedS: 0,
  timesRealTime: 0,
  failed: null,
  recording: false,
};
/** How the open circuit sounds while it is turned: on whatever pane is open. */
export const useLive = create<Live>()(() => SILENT);

interface Playing {
  readonly audio: AudioContext;
  readonly worker: Worker;
  readonly remote: Remote<LiveSoundApi>;
  readonly player: AudioWorkletNode;
  readonly volume: GainNode;
  readonly unsubscribe: () => void;
}
let playing: Playing | null = null;
/** Tells a start that was overtaken by a stop or another start. */
let turn = 0;

/** Begins to sound the open design's current variant, and follows every edit. @param volume 0 to 1. */
export async function startLive(request: Omit<LiveRequest, 'design' | 'variantId'>, volume: number): Promise<void> {
  stopLive();
  const { design } = documentStore.getState();
  if (!design) return;
  const mine = ++turn;
  useLive.setState({ ...SILENT, state: 'starting' });
  const audio = new AudioContext({ sampleRate: RATE_HZ, latencyHint: 'interactive' });
  const worker = new Worker(WORKERS.liveSound, { type: 'module' });
  const quit = (failed: Failure | null) => {
    worker.terminate();
    void audio.close();
    if (mine === turn) useLive.setState({ ...SILENT, failed });
  };
  try {
    await audio.audioWorklet.addModule('/sound/live-player.js');
    await audio.resume();
    if (mine !== turn) return quit(null);
    const remote = wrap<LiveSoundApi>(worker);
    const channel = new MessageChannel();
    const player = new AudioWorkletNode(audio, 'live-player', { numberOfInputs: 0, outputChannelCount: [1] });
    player.port.postMessage({ port: channel.port2 }, [channel.port2]);
    const begun = await remote.start(
      { ...request, design: withoutRecord(design), variantId: currentVariantOf(design).id },
      transfer(channel.port1, [channel.port1]),
      proxy((stepsDown: number) => mine === turn && useLive.setState({ stepsDown })),
    );
    if (mine !== turn) return quit(null);
    if (!begun.ok) return quit(begun);
    const gain = audio.createGain();
    gain.gain.value = volume;
    player.connect(gain).connect(audio.destination);
    player.port.onmessage = ({ data }: MessageEvent<{ played: number; gaps: number }>) =>
      useLive.setState({ gaps: data.gaps, playedS: data.played / RATE_HZ });
    // A tab put aside, a card that went: the browser stops the sound by itself, and that is said.
    audio.onstatechange = () => {
      if (mine === turn && audio.state !== 'running' && audio.state !== 'closed')
        useLive.setState({ failed: { ok: false, code: 'sound-put-aside', data: {} } });
      else if (mine === turn && audio.state === 'running') useLive.setState({ failed: null });
    };
    playing = {
      audio,
      worker,
      remote,
      player,
      volume: gain,
      unsubscribe: followed(remote, () => void startLive(request, gain.gain.value)),
    };
    setSounding(true);
    useLive.setState({ state: 'sounding', ...begun.value, failed: null });
  } catch (error) {
    quit({ ok: false, code: 'no-sound', data: { reason: reasonOf(error) } });
  }
}

export function stopLive(): void {
  turn++;
  setSounding(false);
  playing?.unsubscribe();
  playing?.player.port.postMessage({ stop: true });
  playing?.worker.terminate();
  void playing?.audio.close();
  playing = null;
  if (useLive.getState().state !== 'silent') useLive.setState(SILENT);
}

/** Keeps what sounds from now on, with every move of the hand. */
export async function startRecording(): Promise<void> {
  if (!playing) return;
  await playing.remote.record();
  useLive.setState({ recording: true });
}

/** What was kept, at `RATE_HZ`; null where nothing sounds. */
export async function stopRecording(): Promise<Float32Array | null> {
  if (!playing) return null;
  const kept = await playing.remote.recorded();
  useLive.setState({ recording: false });
  return kept;
}

/** Plays something else on what sounds. */
export function perform(play: Play, moves: readonly Move[]): void {
  void playing?.remote.perform(play, moves);
}

/** A key struck while it sounds, or with null let go. @param level of the loudest. */
export function playKey(hz: number | null, level = 1): void {
  void playing?.remote.key(hz, level);
}

export function setLiveVolume(volume: number): void {
  playing?.volume.gain.setTargetAtTime(volume, playing.audio.currentTime, 0.02);
}

/** The sound glides to where a knob stands for as long: it is told no oftener, ms. */
const TOLD_MS = 1000 * GLIDE_S;

/**
 * Tells the worker of edits, the latest only while it is busy with one or glides; begins anew when the circuit is
 * another.
 */
function followed(remote: Remote<LiveSoundApi>, again: () => void): () => void {
  let busy = false;
  let waiting = false;
  const tell = async (): Promise<void> => {
    if (busy) {
      waiting = true;
      return;
    }
    busy = true;
    const { design } = documentStore.getState();
    if (!design) return stopLive();
    const [followed] = await Promise.all([
      remote.follow(withoutRecord(design), currentVariantOf(design).id),
      new Promise((resolve) => setTimeout(resolve, TOLD_MS)),
    ]);
    busy = false;
    if (!followed.ok && followed.code === 'other-circuit') return again();
    useLive.setState({ failed: followed.ok ? null : followed });
    if (waiting) {
      waiting = false;
      void tell();
    }
  };
  return documentStore.subscribe((now, before) => {
    if (now.design !== before.design) void tell();
  });
}
