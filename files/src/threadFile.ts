import { fileURLToPath } from 'node:url';

/**
 * What a pool of threads is begun with: a module beside the one that asks. As a source it needs the loader for
 * TypeScript, built it needs nothing.
 *
 * @param name - The module's file without its ending.
 * @param asker - The asking module's `import.meta.url`.
 */
export function threadFile(name: string, asker: string): { readonly filename: string; readonly execArgv: string[] } {
  const isSource = asker.endsWith('.ts');
  const filename = fileURLToPath(new URL(`./${name}.${isSource ? 'ts' : 'js'}`, asker));
  return { filename, execArgv: isSource ? ['--import', 'tsx'] : [] };
}
