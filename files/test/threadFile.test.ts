import { expect, test } from 'vitest';
import { threadFile } from '@vitrocept/files';

test('a thread begun from source is loaded with the loader for TypeScript, one that was built without', () => {
  expect(threadFile('worker', 'file:///home/crew/crew.ts')).toEqual({
    filename: '/home/crew/worker.ts',
    execArgv: ['--import', 'tsx'],
  });
  expect(threadFile('worker', 'file:///home/dist/main.js')).toEqual({ filename: '/home/dist/worker.js', execArgv: [] });
});
