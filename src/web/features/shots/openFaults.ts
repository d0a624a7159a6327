/** What is open of a plan before it is started. */
import type { PreflightReply } from '../../../contract/preflight.js';
import { ApiError, get } from '../../state/api.js';
import { MESSAGES } from './startWords.js';

/** Sentences about the open faults of a plan. That it cannot be checked is one of them: it keeps nobody from starting. */
export async function openFaults(setId: number, query: URLSearchParams): Promise<string[]> {
  try {
    const { findings } = await get<PreflightReply>(`/sets/${setId}/preflight?${query.toString()}`);
    return findings
      .filter((f) => f.severity === 'fault' && f.waived === undefined)
      .map((f) => (f.shotName === undefined ? f.message : MESSAGES.fault(f.shotName, f.message)));
  } catch (e) {
    // Without a server nothing can be started either.
    if (!(e instanceof ApiError) || e.status === 0) throw e;
    return [MESSAGES.notChecked(e.message)];
  }
}
