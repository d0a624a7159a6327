/** Pictures that a model names and that were given beside it. */
import { TextureBudget } from '../budget.js';
import type { SourceFile } from '../format.js';
import type { ModelBuilder } from '../modelBuilder.js';
import { decodeTexture } from './texture.js';

/** The last piece of an address, as files beside each other are told apart: programs differ in how they write folders. */
export const fileOf = (address: string): string => address.split(/[\\/]/).pop()!.trim().toLowerCase();

/** Why a picture is not there, said once with what to do. */
export const missingTexture = (name: string, material: string, model: string): string =>
  `The texture "${name}" of the material "${material}" was not given; its plain colour is rendered. Drop it together with the ${model}.`;

/**
 * Numbers of the textures by address, null where none was given or it cannot be read, which is warned of:
 * a picture at fault is no reason to refuse a model.
 */
export async function loadCompanionTextures(
  addresses: string[],
  companions: SourceFile[],
  gather: Pick<ModelBuilder, 'textures' | 'warnings'>,
): Promise<(number | null)[]> {
  const byName = new Map(companions.map((f) => [fileOf(f.name), f]));
  const made = new Map<string, number | null>();
  const budget = new TextureBudget(undefined, (line) => gather.warnings.add(line), new Set(addresses.map(fileOf)).size);
  for (const address of addresses) {
    const file = fileOf(address);
    const source = byName.get(file);
    if (made.has(file) || !source) continue;
    const name = address.split(/[\\/]/).pop()!.trim();
    try {
      const texture = { ...(await decodeTexture(name, source.bytes, budget)), name, wrapU: 'repeat' as const, wrapV: 'repeat' as const };
      made.set(file, gather.textures.push(texture) - 1);
    } catch (e) {
      gather.warnings.add(`${(e as Error).message} A plain colour is rendered.`);
      made.set(file, null);
    }
  }
  return addresses.map((a) => made.get(fileOf(a)) ?? null);
}
