import { readOptions } from './options';
import { readCommand } from './read';
import { renderCommand } from './render';
import { USAGE, UsageError } from './usage';

/** Runs one command and returns its exit code: 0 done, 1 a file failed, 2 wrong usage. */
export async function run(
  args: readonly string[],
  print = (text: string): unknown => process.stdout.write(text),
): Promise<number> {
  try {
    const options = readOptions(args);
    if (options.command === 'help') {
      print(USAGE);
      return 0;
    }
    const done =
      options.command === 'read'
        ? await readCommand(options, print)
        : await renderCommand(options, (text) => process.stderr.write(text));
    return done ? 0 : 1;
  } catch (error) {
    const sentence = (error as Error).message;
    process.stderr.write(error instanceof UsageError ? `${sentence}\nSee: vitrocept --help\n` : `${sentence}\n`);
    return 2;
  }
}
