/** To a drop-off by HTTP PUT, piece by piece; see engine/node/dropOffStand.ts. */
import { sendFile } from '../../../engine/node/dropOff.js';
import { isHookAddress, refusedHost } from '../../config.js';
import type { DeliveryKind } from './deliveryKind.js';

/** By HTTP to a receiving server. */
export const dropOff: DeliveryKind = {
  id: 'dropOff',
  refusal(target, { hookHosts }) {
    if (!isHookAddress(target) || !URL.canParse(target)) return 'Give an address such as http://localhost:4871.';
    const host = refusedHost(target, hookHosts);
    return host === null ? null : `"${host}" is another machine. Name it in COLD_EASEL_HOOK_HOSTS to allow files to be sent there.`;
  },
  async send({ files, name, target, signal, onBytes }) {
    for (const file of files) await sendFile(target, { ...file, path: `${name}/${file.path}` }, { signal, onBytes });
  },
};
