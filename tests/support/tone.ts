/** Sound for tests: a tone as WAV. */

const RATE = 48_000;
/** Hertz. */
export const PITCH = 500;

/** RIFF with 16-bit PCM of one channel: a sine of 12 000 of 32 768. */
export function tone(seconds: number): Buffer {
  const samples = Int16Array.from({ length: seconds * RATE }, (_, i) => 12_000 * Math.sin((2 * Math.PI * PITCH * i) / RATE));
  const head = Buffer.alloc(44);
  head.write('RIFF', 0, 'latin1');
  head.writeUInt32LE(36 + samples.byteLength, 4);
  head.write('WAVEfmt ', 8, 'latin1');
  [16, 1 | (1 << 16), RATE, RATE * 2, 2 | (16 << 16)].forEach((v, i) => head.writeUInt32LE(v, 16 + 4 * i));
  head.write('data', 36, 'latin1');
  head.writeUInt32LE(samples.byteLength, 40);
  return Buffer.concat([head, Buffer.from(samples.buffer)]);
}
