import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import { describe, expect, it } from 'vitest';
import { Events } from './events.js';

/** A client whose socket takes `room` writes before it is full. */
class FakeClient extends EventEmitter {
  readonly request = Object.assign(new EventEmitter(), { headers: {} as Record<string, string>, query: {} as Record<string, string> });
  written: string[] = [];
  room = Infinity;
  destroyed = false;
  writeHead(): void {}
  write(text: string | Buffer): boolean {
    this.written.push(String(text));
    return --this.room > 0;
  }
  end(): void {}
  destroy(): void {
    this.destroyed = true;
  }
  attach(events: Events, last?: string, query: Record<string, string> = {}): this {
    this.request.query = query;
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
  events.send(1, { type: 'import', projectId: 1, share, what: 'x' });
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
    for (let i = 1; i <= 50; i++) events.send(i, { type: 'import', projectId: i, share: i, what: 'x' });
    expect(page.written.length).toBe(before);
    await new Promise((r) => setTimeout(r, 150));
    expect([page.written.length - before, page.events.length]).toEqual([1, 50]);
    events.close();
  });

  it('drop what a later one of the same subject says anew, unless it has gone out', () => {
    const events = new Events();
    const page = new FakeClient().attach(events);
    send(events, 1);
    const { lastId } = page;
    for (const share of [2, 3, 4]) events.send(1, { type: 'import', projectId: 1, share, what: 'x' });
    events.send(2, { type: 'import', projectId: 2, share: 9, what: 'x' });
    events.flush();
    expect(page.events).toEqual([1, 4, 9]);
    // The gap that they leave is none to whoever comes back.
    expect(new FakeClient().attach(events, lastId).events).toEqual([4, 9]);
    events.close();
  });

  it('of one project drop none of another, though they say the same', () => {
    const events = new Events();
    const [first, second] = ['1', '2'].map((projects) => new FakeClient().attach(events, undefined, { projects }));
    for (const project of [1, 2]) events.send(project, { type: 'resync' });
    events.flush();
    expect([first, second].map((c) => c!.events)).toEqual([['resync'], ['resync']]);
    events.close();
  });

  it('go to the pages of their project alone', () => {
    const events = new Events();
    const [all, first, both, none] = [undefined, '1', '1,2', ''].map((projects) =>
      new FakeClient().attach(events, undefined, projects === undefined ? {} : { projects }),
    );
    send(events, 1);
    const { lastId } = first!;
    for (const project of [2, 3]) events.send(project, { type: 'import', projectId: project, share: project, what: 'x' });
    events.flush();
    expect([all, first, both, none].map((c) => c!.events)).toEqual([[1, 2, 3], [1], [1, 2], []]);
    // One that follows another project from now on is told what it missed of it.
    expect(new FakeClient().attach(events, undefined, { projects: '1,3', after: lastId }).events).toEqual([3]);
    expect(() => new FakeClient().attach(events, undefined, { projects: '1;2' })).toThrow('numbers of projects');
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
