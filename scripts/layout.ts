// Writes the kernel's offsets from their schema.
import { writeFileSync } from 'node:fs';
import { offsetsSource } from '../kernel/layout/generate';

writeFileSync(new URL('../kernel/layout/offsets.ts', import.meta.url), offsetsSource());
