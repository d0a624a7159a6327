/** A Radiance picture without run lengths: Ward, "Real pixels", Graphics Gems II, 1991. */
export function radiance(width: number, height: number, at: (x: number, y: number) => [number, number, number]): Uint8Array {
  const head = new TextEncoder().encode(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`);
  const out = new Uint8Array(head.length + width * height * 4);
  out.set(head);
  for (let i = 0; i < width * height; i++) {
    const c = at(i % width, Math.floor(i / width));
    const most = Math.max(...c);
    const exponent = Math.ceil(Math.log2(most) + 1e-9);
    out.set([...c.map((v) => Math.floor((v / 2 ** exponent) * 256)), exponent + 128], head.length + 4 * i);
  }
  return out;
}
