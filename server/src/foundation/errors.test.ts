import { storageTrouble } from './errors';

test.each([
  [{ code: 'ENOSPC' }, 507, 'full'],
  [{ driverError: { code: 'SQLITE_FULL' } }, 507, 'full'],
  [{ code: 'SQLITE_BUSY_SNAPSHOT' }, 503, 'Another program'],
  [{ driverError: { code: 'SQLITE_READONLY_DBMOVED' } }, 503, 'may not write'],
  [{ code: 'EROFS' }, 503, 'may not write'],
  [{ driverError: { code: 'SQLITE_IOERR_WRITE' } }, 503, 'cannot be read or written'],
])('%j is told by its reason and its way out', (error, status, words) => {
  expect(storageTrouble(Object.assign(new Error('x'), error))).toMatchObject({ status, words: expect.stringContaining(words) });
});

test.each([new Error('no'), { code: 'ENOENT' }, { code: 7 }, null, 'ENOSPC'])('%p is something else', (error) => {
  expect(storageTrouble(error)).toBeNull();
});
