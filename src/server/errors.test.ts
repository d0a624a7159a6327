import { describe, expect, it } from 'vitest';
import { ERROR_CATALOGUE, type ErrorCode, ServerError, storageFault } from './errors.js';

const coded = (code: string, more: object = {}): Error => Object.assign(new Error(`${code}: raw words`), { code }, more);

describe('the catalogue of errors', () => {
  it.each(Object.entries(ERROR_CATALOGUE))('%s has a status of an error, a title and a remedy that is a sentence', (_, { status, title, remedy }) => {
    expect(status).toBeGreaterThanOrEqual(400);
    expect(title).toMatch(/^[A-Z]/);
    expect(remedy).toMatch(/^[A-Z].*\.$/);
  });

  it.each([
    ['ENOSPC', 'disk-full', 507],
    ['SQLITE_FULL', 'disk-full', 507],
    ['EACCES', 'storage-unavailable', 503],
    ['EPERM', 'storage-unavailable', 503],
    ['EROFS', 'storage-unavailable', 503],
    ['EIO', 'storage-unavailable', 503],
    ['EMFILE', 'overloaded', 503],
    ['SQLITE_BUSY', 'database-busy', 503],
    ['SQLITE_CORRUPT', 'database-corrupt', 503],
    ['SQLITE_IOERR_WRITE', 'storage-unavailable', 503],
    ['ENAMETOOLONG', 'unusable', 422],
  ] as [string, ErrorCode, number][])('%s is told as %s, without its raw words', (code, told, status) => {
    const fault = storageFault(coded(code))!;
    expect([fault.code, fault.status]).toEqual([told, status]);
    expect(fault.message).not.toContain('raw');
    expect(fault.message).not.toContain(code);
  });

  it('looks into what Sequelize wraps', () => {
    expect(storageFault(Object.assign(new Error('x'), { name: 'SequelizeDatabaseError', original: coded('SQLITE_BUSY') }))!.code).toBe(
      'database-busy',
    );
    expect(storageFault(Object.assign(new Error('x'), { name: 'SequelizeTimeoutError' }))!.retryAfter).toBe(2);
  });

  it('leaves faults of the program alone, and a missing file where nothing is written', () => {
    expect(storageFault(new TypeError('x is not a function'))).toBeNull();
    expect(storageFault(new ServerError('not-found', 'no'))).toBeNull();
    expect(storageFault(coded('ENOENT'))).toBeNull();
    expect(storageFault(coded('ENOENT'), true)!.code).toBe('storage-unavailable');
  });
});
