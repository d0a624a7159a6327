/** Images that the set names are not there. */
import type { Finding, Found } from '../finding.js';

/** Images that materials or stages name are not there. */
export const missingFiles: Finding = {
  id: 'missing-files',
  title: 'Missing images',
  area: 'model',
  needs: 'plan',
  inspect: ({ missingFiles: files }) =>
    files.map((file): Found => ({
      severity: 'fault',
      message: `The image "${file}" is missing. Upload it again, or choose another.`,
      about: { file },
    })),
};
