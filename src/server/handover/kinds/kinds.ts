/** All ways to deliver a package. */
import type { DeliveryKind } from './deliveryKind.js';
import { dropOff } from './dropOff.js';
import { folder } from './folder.js';

/** All ways to send a package. */
export const DELIVERY_KINDS: Readonly<Record<'dropOff' | 'folder', DeliveryKind>> = { dropOff, folder };
