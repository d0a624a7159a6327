import { EventEmitter } from 'node:events';
import { type Request, type Response } from 'express';
import { describe, expect, it } from 'vitest';
import { Events } from './events.js';

/** A client whose socket takes `room` writes before it is full. */
class FakeClient extends EventEmitter {
  readonly request = Object.assign(new EventEmitter(), { headers: {} as Record<string, string> });
  written: string[] = [];
  room = Infinity;
  destroyed = false;
  writeHead(): void {}
  write(text: string): boolean {
    this.written.push(text);
    return --this.room > 0;
  }
  end(): void {}
  destroy(): void {
    this.destroyed = true;
  }
  attach(events: Events, last?: string): this {
    if (last) this.request.headers['last-event-id'] = last;
    events.attach(this.request as unknown as Request, this as unknown as Response);
    return this;
  }
  get events(): unknown[] {
    return this.written.flatMap((t) =>
      [...t.matchAll(/^data: (.*)$/gm)].map(([, text]) => (JSON.parse(text!) as { share?: number }).share ?? 'resync'),
    );
  }
  get lastId(): string {
    return [...this.written.join('').matchAll(/^id: (.*)$/gm)].at(-1)![1]!;
  }
}

const send = (events: Events, share: number): void => {
  events.send({ type: 'import', projectId: 1, share, what: 'x' });
  events.flush();
};

describe('events', () => {
  it('come with ids, and what was missed in a gap comes after it', () => {
    const events = new Events();
    const first = new FakeClient().attach(events);
    send(events, 1);
    send(events, 2);
    const { lastId } = first;
    first.request.emit('close');
    send(events, 3);
    send(events, 4);
    expect(first.events).toEqual([1, 2]);
    expect(new FakeClient().attach(events, lastId).events).toEqual([3, 4]);
    expect(new FakeClient().attach(events).events).toEqual([]);
    events.close();
  });

  it('tell whoever missed more than is kept, or comes from another run of the server, to ask anew', () => {
    const events = new Events();
    const first = new FakeClient().attach(events);
    send(events, 1);
    const { lastId } = first;
    for (let i = 0; i < 1200; i++) send(events, i);
    expect(new FakeClient().attach(events, lastId).events).toEqual(['resync']);
    expect(new FakeClient().attach(events, 'deadbeef-3').events).toEqual(['resync']);
    const back = new FakeClient().attach(events, 'deadbeef-3');
    send(events, 7);
    expect(back.events).toEqual(['resync', 7]);
    events.close();
  });

  it('are not piled up for a client that does not read; it is told the rest when it does', () => {
    const events = new Events();
    const slow = new FakeClient().attach(events);
    slow.room = 2;
    // Several that come together are one write.
    const before = slow.written.length;
    for (let i = 1; i <= 500; i++) send(events, i);
    expect(slow.written.length - before).toBe(2);
    slow.room = Infinity;
    slow.emit('drain');
    expect(slow.events).toEqual(Array.from({ length: 500 }, (_, i) => i + 1));
    events.close();
  });

  it('go out together where many come at once', async () => {
    const events = new Events();
    const page = new FakeClient().attach(events);
    const before = page.written.length;
    for (let i = 1; i <= 50; i++) events.send({ type: 'import', projectId: 1, share: i, what: 'x' });
    expect(page.written.length).toBe(before);
    await new Promise((r) => setTimeout(r, 150));
    expect([page.written.length - before, page.events.length]).toEqual([1, 50]);
    events.close();
  });

  it('let go of a client that does not read for a minute, and beat for the others', async () => {
    const events = new Events(5);
    const [stuck, fine] = [new FakeClient().attach(events), new FakeClient().attach(events)];
    stuck.room = 1;
    send(events, 1);
    const clock = performance.now.bind(performance);
    performance.now = () => clock() + 61_000;
    try {
      await new Promise((r) => setTimeout(r, 40));
    } finally {
      performance.now = clock;
    }
    expect([stuck.destroyed, fine.destroyed, events.size]).toEqual([true, false, 1]);
    expect(fine.written.filter((t) => t === ': \n\n').length).toBeGreaterThan(0);
    events.close();
  });
});
