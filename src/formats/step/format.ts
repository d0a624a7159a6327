/** What STEP, IGES and BREP files are; their reader is loaded where one is read. */
import { extensionOf, type ModelFormat } from '../format.js';

/** STEP and IGES, and BREP. */
export const step: ModelFormat = {
  id: 'step',
  noun: 'a STEP, IGES or BREP model',
  extensions: ['step', 'stp', 'iges', 'igs', 'brep'],
  statesUnits: true,
  sniff: ({ bytes, name }) => {
    const head = new TextDecoder('latin1').decode(bytes.subarray(0, 4096));
    const ending = extensionOf(name);
    if (['stp', 'step'].includes(ending)) return /ISO-10303-21/.test(head);
    // Column 73 of each line of an IGES file tells its section; the first is S.
    if (['igs', 'iges'].includes(ending)) return /^.{72}S/m.test(head);
    return /DBRep_DrawableShape|CASCADE/.test(head);
  },
  read: async (file, companions, options) => (await import('./read.js')).read(file, companions, options),
};
