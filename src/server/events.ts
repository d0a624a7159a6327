/** Server-sent events to every open page. */
import { type Request, type Response } from 'express';
import { type ServerEvent } from '../contract/contract.js';

const HEARTBEAT_MS = 20_000;

export class Events {
  private readonly clients = new Set<Response>();

  attach(request: Request, response: Response): void {
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    response.write('retry: 1000\n\n');
    this.clients.add(response);
    const beat = setInterval(() => response.write(': \n\n'), HEARTBEAT_MS);
    request.on('close', () => {
      clearInterval(beat);
      this.clients.delete(response);
    });
  }

  send(event: ServerEvent): void {
    const text = `data: ${JSON.stringify(event)}\n\n`;
    for (const client of this.clients) client.write(text);
  }

  close(): void {
    for (const client of this.clients) client.end();
    this.clients.clear();
  }
}
