/** What the command line does to a data folder; a bundle of its own, so that no other command loads a database. */
export { FolderInUseError } from '../db/dataLock.js';
export { BackupError } from './archive.js';
export { backupFolder } from './backup.js';
export { checkFolder } from './check.js';
export { PARTS } from './inventory.js';
export { learntHere } from './learnt.js';
export { passphraseProblem, setPassphrase } from './passphrase.js';
export { restoreFolder } from './restore.js';
