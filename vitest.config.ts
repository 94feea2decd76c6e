import { defineConfig } from 'vitest/config';

const testsOf = (...workspaces: readonly string[]) => workspaces.map((name) => `${name}/test/**/*.test.{ts,tsx}`);

export default defineConfig({
  test: {
    testTimeout: 1_200_000,
    hookTimeout: 1_200_000,
    pool: 'forks',
    maxWorkers: 2,
    globalSetup: 'scripts/buildBeforeTests.mjs',
    projects: [
      {
        extends: true,
        // Pure computation: its modules are loaded once a worker, which is a sixth of the whole run.
        test: {
          name: 'computation',
          include: testsOf('core', 'kernels', 'workers', 'files', 'bench', 'cli'),
          isolate: false,
        },
      },
      { extends: true, test: { name: 'page and server', include: testsOf('web', 'server') } },
    ],
  },
});
