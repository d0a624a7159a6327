/** The kernel's memory as the host writes it. */
export interface Views {
  u8: Uint8Array;
  u32: Uint32Array;
  i32: Int32Array;
  f32: Float32Array;
}

/** Views of the memory as it is now; they end where it grows. */
export function viewsOf(memory: WebAssembly.Memory): Views {
  const { buffer } = memory;
  return { u8: new Uint8Array(buffer), u32: new Uint32Array(buffer), i32: new Int32Array(buffer), f32: new Float32Array(buffer) };
}

/** Fewer numbers than these are faster written one by one. */
const FEW = 16;

/** Writes floats from that address on, which is a multiple of 4. */
export function writeF32({ f32 }: Views, at: number, values: ArrayLike<number>): void {
  const first = at >> 2;
  if (values.length >= FEW) f32.set(values, first);
  else for (let i = 0; i < values.length; i++) f32[first + i] = values[i]!;
}

/** Writes an unsigned number at that address, which is a multiple of 4. */
export function writeU32({ u32 }: Views, at: number, value: number): void {
  u32[at >> 2] = value;
}

/** A label for mattes: MurmurHash3 of the name (Appleby), kept a normal float as the Cryptomatte specification asks. */
export function cryptomatteHash(name: string): number {
  const bytes = new TextEncoder().encode(name);
  let h = 0;
  const mix = (k: number): number => {
    k = Math.imul(k, 0xcc9e2d51);
    k = (k << 15) | (k >>> 17);
    return Math.imul(k, 0x1b873593);
  };
  const whole = bytes.length & ~3;
  for (let i = 0; i < whole; i += 4) {
    h ^= mix(bytes[i]! | (bytes[i + 1]! << 8) | (bytes[i + 2]! << 16) | (bytes[i + 3]! << 24));
    h = (h << 13) | (h >>> 19);
    h = (Math.imul(h, 5) + 0xe6546b64) | 0;
  }
  let k = 0;
  for (let i = bytes.length - 1; i >= whole; i--) k = (k << 8) | bytes[i]!;
  if (bytes.length > whole) h ^= mix(k);
  h ^= bytes.length;
  h ^= h >>> 16;
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  h = (h ^ (h >>> 16)) >>> 0;
  // No zero, denormal, infinite or not-a-number bit pattern.
  const exponent = (h >>> 23) & 255;
  return exponent === 0 || exponent === 255 ? (h ^ (1 << 23)) >>> 0 : h;
}
