/** The set is not what the client's delivery asks for. */
import { deliveryFindings } from '../../plan/delivery.js';
import type { Finding, Found } from '../finding.js';

/** Something that the client's delivery does not allow. */
export const notAsDelivered: Finding = {
  id: 'client-delivery',
  title: 'Client delivery not met',
  area: 'format',
  needs: 'plan',
  inspect: ({ set, outputs }) =>
    set.delivery
      ? deliveryFindings(
          set.delivery,
          set.sheet,
          set.shots,
          outputs.flatMap((o) => o.frames),
        ).map(({ shot, message, fix }): Found => ({
          severity: 'fault',
          ...(shot && { run: shot }),
          message: `${message} ${fix}`,
          about: { message },
        }))
      : [],
};
