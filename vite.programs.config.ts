import { cpSync } from 'node:fs';
import { defineConfig } from 'vite';

/**
 * Entry files whose own address is asked for at run time lie beside each other, under the names they have as sources.
 */
const ENTRIES = {
  main: 'server/src/main.ts',
  worker: 'server/src/crew/worker.ts',
  cli: 'cli/src/main.ts',
  roundOne: 'cli/src/roundOne.ts',
};

/** Server and command line as plain JavaScript: loaded from source, each thread takes seconds to begin. */
export default defineConfig({
  plugins: [
    {
      name: 'migrations beside the server',
      writeBundle: ({ dir }) => cpSync('server/src/db/migrations', `${dir}/migrations`, { recursive: true }),
    },
  ],
  build: {
    ssr: true,
    outDir: 'dist/node',
    target: 'node20',
    minify: false,
    sourcemap: true,
    rolldownOptions: { input: ENTRIES, output: { entryFileNames: '[name].js', chunkFileNames: '[name].js' } },
  },
});
