/** The shared worker that holds the stream of events for all pages of this browser. */
import { type FromEvents, holdStream, type ToEvents } from './eventStream.js';

const ports = new Set<MessagePort>();
let state: FromEvents = { kind: 'closed' };
let heard = false;

(self as unknown as { onconnect: (e: MessageEvent) => void }).onconnect = (e) => {
  const [port] = e.ports as [MessagePort];
  ports.add(port);
  port.onmessage = (message: MessageEvent<ToEvents>) => {
    if (message.data === 'bye') ports.delete(port);
  };
  // Who comes later is told how it stands.
  if (heard) port.postMessage(state);
};

holdStream((message) => {
  if (message.kind !== 'event') {
    state = message;
    heard = true;
  }
  for (const port of ports) port.postMessage(message);
});
