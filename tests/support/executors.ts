import type { Executor } from '../../src/server/executor/executor.js';

/** An executor that does some things otherwise than the given one. */
export function executorLike(executor: Executor, otherwise: Partial<Executor>): Executor {
  return {
    workers: 1,
    render: (...asked) => executor.render(...asked),
    develop: (...asked) => executor.develop(...asked),
    decodeCheckpoint: (bytes) => executor.decodeCheckpoint(bytes),
    stats: () => executor.stats(),
    resetStats: () => executor.resetStats(),
    ...otherwise,
  };
}
