/** Waits for what a test does not do itself, by asking. */

/** Milliseconds between two questions, at least and at most. */
const SHORTEST = 5;
const LONGEST = 150;

/**
 * Asks until an answer is good, and returns that. The pauses are a tenth of what was waited: asking takes time of the
 * processor from what is waited for.
 * @param limit milliseconds after which no further question is asked.
 * @throws where no answer was good within the limit; the message has the last one.
 */
export async function until<T>(ask: () => Promise<T>, good: (answer: T) => boolean, limit = 240_000): Promise<T> {
  const began = performance.now();
  for (;;) {
    const answer = await ask();
    if (good(answer)) return answer;
    const waited = performance.now() - began;
    if (waited > limit) throw new Error(`It never came so far. The last answer: ${JSON.stringify(answer)}`);
    await new Promise((r) => setTimeout(r, Math.min(LONGEST, Math.max(SHORTEST, waited / 10))));
  }
}
