/**
 * Renders the batches that tests of the forecast replay (tests/reference/forecast.test.ts), about ten minutes on two
 * cores with nothing else running: `npx tsx scripts/recordings.ts`, with beginnings of names to make those alone.
 */
import { record, saveRecording, SCENES } from '../tests/support/recordings.js';

const asked = process.argv.slice(2);
for (const scene of SCENES.filter(({ name }) => asked.length === 0 || asked.some((a) => name.startsWith(a)))) {
  const recording = await record(scene);
  saveRecording(recording);
  process.stdout.write(`${recording.name}: ${recording.done.length} frames in ${recording.done.reduce((n, d) => n + d.seconds, 0).toFixed(1)} s\n`);
}
