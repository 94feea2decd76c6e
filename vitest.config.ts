import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,kernels,files,workers,server,web,cli,bench}/test/**/*.test.{ts,tsx}'],
    testTimeout: 1_200_000,
    hookTimeout: 1_200_000,
    pool: 'forks',
    maxWorkers: 2,
  },
});
