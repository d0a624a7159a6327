/** Tells of batches beside their page: how far they are in the icon of the tab, and by a notice when one ends or is held. */
import { useEffect, useRef } from 'react';
import type { BatchReply } from '../../contract/batches.js';
import { usePreferences } from './preferences.js';
import { MESSAGES } from './words.js';

const ICON_SIDE = 32;
const TONE = { hertz: 660, seconds: 0.25, gain: 0.08 };

/** A ring that fills with the share that is done. */
function drawShare(share: number): string {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = ICON_SIDE;
  const pen = canvas.getContext('2d');
  if (!pen) return '';
  const [middle, radius] = [ICON_SIDE / 2, ICON_SIDE / 2 - 4];
  const ring = (colour: string, to: number): void => {
    pen.beginPath();
    pen.lineWidth = 7;
    pen.strokeStyle = colour;
    pen.arc(middle, middle, radius, -Math.PI / 2, -Math.PI / 2 + 2 * Math.PI * to);
    pen.stroke();
  };
  ring('#c9cdd0', 1);
  ring('#15202a', share);
  return canvas.toDataURL('image/png');
}

/** The icon of the tab while something renders; the page's own otherwise. */
function useProgressIcon(share: number | null): void {
  const step = share === null ? null : Math.round(share * 40) / 40;
  useEffect(() => {
    const icon = document.querySelector<HTMLLinkElement>('link[rel="icon"]');
    if (!icon || step === null) return;
    const own = icon.href;
    icon.href = drawShare(step);
    return () => {
      icon.href = own;
    };
  }, [step]);
}

/** A short tone. */
function playTone(): void {
  const sound = new AudioContext();
  const [tone, volume] = [sound.createOscillator(), sound.createGain()];
  tone.frequency.value = TONE.hertz;
  volume.gain.setValueAtTime(TONE.gain, sound.currentTime);
  volume.gain.exponentialRampToValueAtTime(1e-4, sound.currentTime + TONE.seconds);
  tone.connect(volume).connect(sound.destination);
  tone.onended = () => void sound.close();
  tone.start();
  tone.stop(sound.currentTime + TONE.seconds);
}

const OPEN = ['queued', 'running'];

/** Tells of batches that ended or are held, where that is asked for; shows nothing itself. */
export function BatchNotices({ batches }: { batches: readonly BatchReply[] }): null {
  const { notices, noticeSound } = usePreferences();
  const before = useRef<ReadonlyMap<number, BatchReply['state']>>(new Map());
  const running = batches.find((b) => b.state === 'running');
  useProgressIcon(running && running.total > 0 ? running.done / running.total : null);
  useEffect(() => {
    for (const batch of batches) {
      const was = before.current.get(batch.id);
      const ended = was !== undefined && OPEN.includes(was) && (batch.state === 'done' || batch.state === 'held');
      if (!ended || !notices) continue;
      if (typeof Notification !== 'undefined' && Notification.permission === 'granted')
        new Notification(batch.state === 'done' ? MESSAGES.batchDone(batch.number) : MESSAGES.batchHeld(batch.number), {
          body: batch.reason ?? MESSAGES.batchCounts(batch.name, batch.done, batch.total, batch.failed),
          tag: `cold-easel-batch-${batch.id}`,
        });
      if (noticeSound) playTone();
    }
    before.current = new Map(batches.map((b) => [b.id, b.state]));
  }, [batches, notices, noticeSound]);
  return null;
}
