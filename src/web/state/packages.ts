/** Packages of a set, as SWR keeps them. */
import useSWR, { mutate } from 'swr';
import type { PackageReply } from '../../contract/packages.js';
import { get } from './api.js';

/** The newest first. */
export const usePackages = (set: number) => useSWR<PackageReply[], Error>(`/sets/${set}/packages`, get);

/** Asks for the packages of a set anew. */
export const refreshPackages = (set: number): Promise<unknown> => mutate(`/sets/${set}/packages`);
