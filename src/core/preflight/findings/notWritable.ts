/** Nothing can be written where the files are to go. */
import type { Finding, Found } from '../finding.js';

/** Files cannot be written into the output folder. */
export const notWritable: Finding = {
  id: 'not-writable',
  title: 'Folder not writable',
  area: 'format',
  needs: 'plan',
  inspect: ({ output }): Found[] =>
    output?.writable === false
      ? [
          {
            severity: 'fault',
            message: `Nothing can be written to ${output.folder}. Change its permissions, or choose another data folder.`,
            about: {},
          },
        ]
      : [],
};
