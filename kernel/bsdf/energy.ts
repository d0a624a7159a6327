/** Tables of what single scattering returns (Kulla and Conty, "Revisiting physically based shading at Imageworks", 2017); they lie as ENERGY_ says. */
import { ENERGY_A, ENERGY_B, ENERGY_CELLS } from "../layout";

let energy: usize = 0;

/** Takes the tables for the look-ups that follow. */
export function setEnergyTables(tables: usize): void {
  energy = tables;
}

/** A table over [roughness][root of cosine], between its cells. */
export function lookUpEnergy(table: usize, rough: f32, c: f32): f32 {
  const x: f32 = sqrt<f32>(min<f32>(max<f32>(c, 0), 1)) * <f32>(ENERGY_CELLS - 1);
  const i = <u32>min<f32>(x, <f32>(ENERGY_CELLS - 2)), j = <u32>min<f32>(rough, <f32>(ENERGY_CELLS - 2));
  const a: f32 = x - <f32>i, b: f32 = rough - <f32>j;
  const p = energy + table + (<usize>(j * ENERGY_CELLS + i) << 2);
  const low: f32 = load<f32>(p) + a * (load<f32>(p, 4) - load<f32>(p));
  const high: f32 = load<f32>(p, ENERGY_CELLS * 4) + a * (load<f32>(p, ENERGY_CELLS * 4 + 4) - load<f32>(p, ENERGY_CELLS * 4));
  return low + b * (high - low);
}

/** What lookUpEnergyPair found. */
export let pairA: f32 = 0;
export let pairB: f32 = 0;

/** Both tables of the highlight at once. */
export function lookUpEnergyPair(rough: f32, c: f32): void {
  const x: f32 = sqrt<f32>(min<f32>(max<f32>(c, 0), 1)) * <f32>(ENERGY_CELLS - 1);
  const i = <u32>min<f32>(x, <f32>(ENERGY_CELLS - 2)), j = <u32>min<f32>(rough, <f32>(ENERGY_CELLS - 2));
  const a: f32 = x - <f32>i, b: f32 = rough - <f32>j;
  const p = energy + (<usize>(j * ENERGY_CELLS + i) << 2);
  const lowA: f32 = load<f32>(p, ENERGY_A) + a * (load<f32>(p, ENERGY_A + 4) - load<f32>(p, ENERGY_A));
  const highA: f32 = load<f32>(p, ENERGY_A + ENERGY_CELLS * 4) + a * (load<f32>(p, ENERGY_A + ENERGY_CELLS * 4 + 4) - load<f32>(p, ENERGY_A + ENERGY_CELLS * 4));
  const lowB: f32 = load<f32>(p, ENERGY_B) + a * (load<f32>(p, ENERGY_B + 4) - load<f32>(p, ENERGY_B));
  const highB: f32 = load<f32>(p, ENERGY_B + ENERGY_CELLS * 4) + a * (load<f32>(p, ENERGY_B + ENERGY_CELLS * 4 + 4) - load<f32>(p, ENERGY_B + ENERGY_CELLS * 4));
  pairA = lowA + b * (highA - lowA);
  pairB = lowB + b * (highB - lowB);
}

/** The mean of a table over the cosine, between its cells. */
// @ts-ignore: decorator
@inline
export function lookUpMeanEnergy(table: usize, rough: f32): f32 {
  const j = <u32>min<f32>(rough, <f32>(ENERGY_CELLS - 2));
  const p = energy + table + (<usize>j << 2);
  return load<f32>(p) + (rough - <f32>j) * (load<f32>(p, 4) - load<f32>(p));
}

/** Colour of light scattered many times among the facets of a metal: F² E / (1 - F (1 - E)), F the mean of Schlick's factor. */
// @ts-ignore: decorator
@inline
export function multipleScattering(f0: f32, mean: f32): f32 {
  const f: f32 = f0 + (1 - f0) * <f32>0.047619047619;
  return f * f * mean / (1 - f * (1 - mean));
}
