/** Packages of a set, as SWR keeps them. */
import useSWR, { mutate } from 'swr';
import type { PackageReply } from '../../contract/packages.js';
import type { PackageChanges } from '../../core/handover/manifest.js';
import { get } from './api.js';

/** The newest first. */
export const usePackages = (set: number) => useSWR<PackageReply[], Error>(`/sets/${set}/packages`, get);

/** What became of files since earlier packages; null of the first. @param pack one that is made. */
export const usePackageChanges = ({ id, audited }: Pick<PackageReply, 'id' | 'audited'>) =>
  useSWR<PackageChanges | null, Error>(audited === null ? null : `/packages/${id}/changes`, get);

/** Asks for the packages of a set anew. */
export const refreshPackages = (set: number): Promise<unknown> => mutate(`/sets/${set}/packages`);
