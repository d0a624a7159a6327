/** What can be done from where one is: every step says its commands, and the palette lists them all. */
import { useEffect, useRef } from 'react';

/** Something that can be done from the palette. */
export interface Command {
  name: string;
  /** Keys that do the same, for people to learn. */
  keys?: string;
  run: () => void;
}

const registered = new Map<symbol, () => Command[]>();

/** Offers commands as long as the component stands. */
export function useCommands(commands: Command[]): void {
  const latest = useRef(commands);
  latest.current = commands;
  useEffect(() => {
    const key = Symbol('commands');
    registered.set(key, () => latest.current);
    return () => {
      registered.delete(key);
    };
  }, []);
}

/** Commands that are offered now, the latest to stand first. */
export function activeCommands(): Command[] {
  return [...registered.values()].reverse().flatMap((list) => list());
}
