/**
 * How much light single scattering gives back, by angle and roughness: the tables with which the kernel
 * returns what it loses (kernel/bsdf/surface.ts, glass.ts). Computed by drawing visible normals, so that what
 * is averaged is the masking alone: Heitz, "Sampling the GGX distribution of visible normals", 2018.
 */
import * as L from '../../../kernel/layout.js';

const N = L.ENERGY_CELLS;
/** Points a cell; a rank-one lattice (golden ratio) is smooth enough for 1e-4. */
const POINTS = 512;
const MIN_ALPHA = 0.0016;

const PHI = Array.from({ length: POINTS }, (_, i) => 2 * Math.PI * ((i + 0.5) / POINTS));
const COS_PHI = Float64Array.from(PHI, Math.cos);
const SIN_PHI = Float64Array.from(PHI, Math.sin);
const POINTS_V = Float64Array.from({ length: POINTS }, (_, i) => (i * 0.6180339887498949 + 0.5) % 1);

/** Cosine of a table's column: even in its root, for the steep end at grazing angles. */
export function cosineOf(i: number, cells: number = N): number {
  return Math.max((i / (cells - 1)) ** 2, 1e-4);
}

/** Smith's masking of one direction. */
function masking(c: number, alpha: number): number {
  return (2 * c) / (c + Math.sqrt(alpha * alpha + (1 - alpha * alpha) * c * c));
}

/** A visible facet for view (sin, 0, cos); calls back with its normal. Heitz 2018. */
function eachFacet(cos: number, alpha: number, visit: (x: number, y: number, z: number) => void): void {
  const sin = Math.sqrt(1 - cos * cos);
  const n = Math.hypot(alpha * sin, cos);
  const [vx, vz] = [(alpha * sin) / n, cos / n];
  for (let i = 0; i < POINTS; i++) {
    const z = (1 - POINTS_V[i]!) * (1 + vz) - vz;
    const r = Math.sqrt(Math.max(0, 1 - z * z));
    const [x, y, w] = [alpha * (r * COS_PHI[i]! + vx), alpha * r * SIN_PHI[i]!, Math.max(z + vz, 1e-9)];
    const m = Math.sqrt(x * x + y * y + w * w);
    visit(x / m, y / m, w / m);
  }
}

/** Shares [a, b] of the highlight at a cosine: reflected light is F0 a + F90 b under Schlick's factor. */
export function highlightEnergy(cos: number, alpha: number): [number, number] {
  const sin = Math.sqrt(1 - cos * cos);
  const a2 = alpha * alpha;
  const lambda = (c: number): number => Math.sqrt(a2 + (1 - a2) * c * c);
  let [a, b] = [0, 0];
  eachFacet(cos, alpha, (x, _y, z) => {
    const c = sin * x + cos * z;
    const l = 2 * c * z - cos;
    if (l <= 0) return;
    // Height-correlated masking of both over that of the view.
    const g = (l * (cos + lambda(cos))) / (l * lambda(cos) + cos * lambda(l));
    const away = 1 - c;
    const f = away * away * away * away * away;
    a += g * (1 - f);
    b += g * f;
  });
  return [a / POINTS, b / POINTS];
}

/** Share of light that a white sheen reflects at a cosine (Estevez and Kulla 2017), by even cosine sampling. */
export function sheenEnergy(cos: number, roughness: number): number {
  const inv = 1 / Math.max(roughness, 0.07) ** 2;
  const sin = Math.sqrt(1 - cos * cos);
  let sum = 0;
  for (let i = 0; i < POINTS; i++) {
    const l = POINTS_V[i]!;
    const s = Math.sqrt(1 - l * l);
    const [hx, hy, hz] = [sin + s * COS_PHI[i]!, s * SIN_PHI[i]!, cos + l];
    const z = hz / Math.sqrt(hx * hx + hy * hy + hz * hz);
    const d = ((2 + inv) * Math.max(1 - z * z, 0.0078125) ** (inv / 2)) / (2 * Math.PI);
    sum += (d / (4 * (l + cos - l * cos))) * l;
  }
  return Math.min(1, (sum * 2 * Math.PI) / POINTS);
}

/** Cosine-weighted mean of a table's row: 2 ∫ E(c) c dc, by the columns' own spacing. */
function mean(row: Float32Array): number {
  const steps = 256;
  let sum = 0;
  for (let k = 0; k < steps; k++) {
    const c = (k + 0.5) / steps;
    const x = Math.sqrt(c) * (N - 1);
    const i = Math.min(Math.floor(x), N - 2);
    sum += (row[i]! + (x - i) * (row[i + 1]! - row[i]!)) * c;
  }
  return (2 * sum) / steps;
}

let tables: Float32Array | null = null;

/** The tables as the kernel's layout has them; computed once a process. */
export function energyTables(): Float32Array {
  if (tables) return tables;
  const out = new Float32Array(L.ENERGY_BYTES / 4);
  for (let j = 0; j < N; j++) {
    const roughness = j / (N - 1);
    const alpha = Math.max(roughness * roughness, MIN_ALPHA);
    for (let i = 0; i < N; i++) {
      const [a, b] = highlightEnergy(cosineOf(i), alpha);
      out[L.ENERGY_A / 4 + j * N + i] = a;
      out[L.ENERGY_B / 4 + j * N + i] = b;
      out[L.ENERGY_SHEEN / 4 + j * N + i] = sheenEnergy(cosineOf(i), roughness);
    }
    const row = (at: number): Float32Array => out.subarray(at / 4 + j * N, at / 4 + (j + 1) * N);
    out[L.ENERGY_MEAN_A / 4 + j] = mean(row(L.ENERGY_A));
    out[L.ENERGY_MEAN_B / 4 + j] = mean(row(L.ENERGY_B));
    out[L.ENERGY_MEAN_SHEEN / 4 + j] = mean(row(L.ENERGY_SHEEN));
  }
  tables = out;
  return out;
}

/** Exact Fresnel reflectance, eta = index on the arriving side over that behind. */
function fresnel(c: number, eta: number): number {
  const s2 = eta * eta * (1 - c * c);
  if (s2 >= 1) return 1;
  const t = Math.sqrt(1 - s2);
  return (((eta * c - t) / (eta * c + t)) ** 2 + ((c - eta * t) / (c + eta * t)) ** 2) / 2;
}

/** Light that rough glass mirrors or lets through in one scattering, by cosine: from outside, then from inside. */
export function glassEnergy(roughness: number, ior: number, thin: boolean): Float32Array {
  const out = new Float32Array(2 * L.GLASS_CELLS);
  const alpha = Math.max(roughness * roughness, MIN_ALPHA);
  for (let side = 0; side < 2; side++) {
    const eta = side === 0 || thin ? 1 / ior : ior;
    for (let i = 0; i < L.GLASS_CELLS; i++) {
      const cos = cosineOf(i, L.GLASS_CELLS);
      const sin = Math.sqrt(1 - cos * cos);
      let sum = 0;
      eachFacet(cos, alpha, (x, _y, z) => {
        const c = sin * x + cos * z;
        const single = fresnel(c, eta);
        const f = thin ? (2 * single) / (1 + single) : single;
        const mirrored = 2 * c * z - cos;
        if (mirrored > 0) sum += (thin ? 1 : f) * masking(mirrored, alpha);
        if (thin || f >= 1) return;
        const k = eta * c - Math.sqrt(Math.max(0, 1 - eta * eta * (1 - c * c)));
        const bent = k * z - eta * cos;
        if (bent < 0) sum += (1 - f) * masking(-bent, alpha);
      });
      out[side * L.GLASS_CELLS + i] = Math.max(sum / POINTS, 0.05);
    }
  }
  return out;
}
