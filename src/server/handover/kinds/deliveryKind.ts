/** What a way to deliver a package is. A further one is a file beside these and a line in kinds.ts. */
import type { SentFile } from '../../../engine/node/dropOff.js';
import type { ServerConfig } from '../../config.js';

/** What is sent, and where to. */
export interface DeliveryTask {
  /** Files of the package, with their paths in it. */
  files: readonly SentFile[];
  /** Name of the package, as a folder. */
  name: string;
  target: string;
  signal: AbortSignal;
  /** Bytes that arrived since it was called last. */
  onBytes: (bytes: number) => void;
}

/** One way to send a package. */
export interface DeliveryKind {
  id: string;
  /** Why nothing may be sent to that target, or null. */
  refusal(target: string, config: Pick<ServerConfig, 'hookHosts' | 'address' | 'trustProxy'>): string | null;
  /** Sends what has not arrived yet; rejects with the reason where it cannot. Called again after a restart. */
  send(task: DeliveryTask): Promise<void>;
}
