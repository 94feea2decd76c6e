import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** The command line as it was built before the tests. */
export const CLI = fileURLToPath(new URL('../../dist/node/cli.js', import.meta.url));

/** Calls it from a folder, as a person does. */
export function vitroceptIn(folder: string, ...args: readonly string[]) {
  const child = spawnSync(process.execPath, [CLI, ...args], {
    cwd: folder,
    encoding: 'utf8',
    // As npm sets it: the folder that the person calls from.
    env: { ...process.env, INIT_CWD: folder },
  });
  return { code: child.status, out: child.stdout, errors: child.stderr };
}
