/** The shared worker that holds the stream of events for all pages of this browser. */
import { EventStream, type FromEvents, type ToEvents } from './eventStream.js';

/** Every open page, with the projects that it shows. */
const ports = new Map<MessagePort, readonly number[]>();
let state: FromEvents | null = null;

const stream = new EventStream((message) => {
  if (message.kind !== 'event') state = message;
  for (const port of ports.keys()) port.postMessage(message);
});

(self as unknown as { onconnect: (e: MessageEvent) => void }).onconnect = (e) => {
  const [port] = e.ports as [MessagePort];
  ports.set(port, []);
  port.onmessage = ({ data }: MessageEvent<ToEvents>) => {
    if (data.kind === 'bye') ports.delete(port);
    else ports.set(port, data.projects);
    stream.follow(new Set([...ports.values()].flat()));
  };
  // Who comes later is told how it stands.
  if (state) port.postMessage(state);
};
