// @vitest-environment happy-dom
import { act, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { BatchReply } from '../../../contract/batches.js';
import { PLAIN_PLAY, type PlayOptions } from '../../ui/playIndex.js';
import { type PlayedSound, useSound } from './useSound.js';

/** What a browser has to play sound. */
class Player {
  static all: Player[] = [];
  loop = false;
  preload = '';
  paused = true;
  currentTime = 0;
  duration = 2;
  constructor(readonly src: string) {
    Player.all.push(this);
  }
  play(): Promise<void> {
    this.paused = false;
    return Promise.resolve();
  }
  pause(): void {
    this.paused = true;
  }
}

const clip = (id: number, fit: 'cut' | 'loop' | null, shot = 'spin', state = 'ready') => ({
  id,
  shot,
  state,
  ...(fit && { sound: { file: `${id}.wav`, fit } }),
});
const batchOf = (...clips: object[]): BatchReply => ({ clips }) as unknown as BatchReply;

let heard: PlayedSound | null = null;
interface Props {
  batch: BatchReply;
  playing?: boolean;
  index?: number;
  options?: PlayOptions;
}
function Shot({ batch, playing = true, index = 0, options = PLAIN_PLAY }: Props): ReactNode {
  heard = useSound(batch, 'spin', playing, index, '10', options);
  return null;
}

beforeEach(() => {
  Player.all = [];
  vi.stubGlobal('Audio', Player);
});
afterEach(() => vi.unstubAllGlobals());

describe('the sound of a shot', () => {
  it('is that of its newest movie that has one and is ready', () => {
    render(<Shot batch={batchOf(clip(1, 'cut'), clip(2, 'cut'), clip(3, null), clip(4, 'cut', 'other'), clip(5, 'cut', 'spin', 'making'))} />);
    expect(Player.all.map((p) => p.src)).toEqual(['/api/sounds/2.wav']);
    expect(Player.all[0]!.paused).toBe(false);
  });

  it('is none where no movie has one', () => {
    render(<Shot batch={batchOf(clip(1, null))} />);
    expect([heard, Player.all]).toEqual([null, []]);
  });

  it('goes with the frames, is put right where they are apart, and left alone where they are not', () => {
    const batch = batchOf(clip(1, 'cut'));
    const { rerender } = render(<Shot batch={batch} index={5} />);
    const [player] = Player.all;
    expect(player!.currentTime).toBeCloseTo(0.5);
    player!.currentTime = 0.68;
    rerender(<Shot batch={batch} index={6} />);
    expect(player!.currentTime).toBe(0.68);
    // The frames began again.
    rerender(<Shot batch={batch} index={0} />);
    expect(player!.currentTime).toBe(0);
    // It is over before the movie is.
    rerender(<Shot batch={batch} index={20} />);
    expect(player!.paused).toBe(true);
    rerender(<Shot batch={batch} index={1} playing={false} />);
    expect(player!.paused).toBe(true);
  });

  it('begins again where its movie repeats it', () => {
    const batch = batchOf(clip(1, 'loop'));
    render(<Shot batch={batch} index={25} />);
    expect([Player.all[0]!.loop, Player.all[0]!.paused]).toEqual([true, false]);
    expect(Player.all[0]!.currentTime).toBeCloseTo(0.5);
  });

  it('is silent at another speed, there and back, and where it is muted', () => {
    const batch = batchOf(clip(1, 'cut'));
    const { rerender } = render(<Shot batch={batch} />);
    const [player] = Player.all;
    for (const options of [
      { ...PLAIN_PLAY, speed: 2 },
      { ...PLAIN_PLAY, thereAndBack: true },
    ]) {
      rerender(<Shot batch={batch} options={options} />);
      expect(player!.paused).toBe(true);
      rerender(<Shot batch={batch} />);
      expect(player!.paused).toBe(false);
    }
    act(() => heard!.setMuted(true));
    expect(player!.paused).toBe(true);
  });
});
