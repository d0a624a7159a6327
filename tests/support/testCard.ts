/** A test card: a grey ramp above, bars of colours below. */

/** Grey ramp and bars as display bytes. */
export function card(width: number, height: number, shift = 0): Buffer {
  const bars = [
    [235, 235, 235],
    [200, 200, 20],
    [20, 200, 200],
    [20, 200, 20],
    [200, 20, 200],
    [200, 20, 20],
    [20, 20, 200],
    [16, 16, 16],
  ];
  const data = Buffer.alloc(width * height * 3);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const c = y < height / 2 ? (Array(3).fill(Math.round((255 * x) / (width - 1))) as number[]) : bars[Math.floor((x * 8) / width)]!;
      for (let k = 0; k < 3; k++) data[(y * width + ((x + shift) % width)) * 3 + k] = c[k]!;
    }
  }
  return data;
}
