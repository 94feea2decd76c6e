import { readOptions, type Options } from './options';
import { practiceCommand } from './practice';
import { proveCommand } from './prove';
import { readCommand } from './read';
import { renderCommand } from './render';
import { roundCommand } from './round';
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
    return (await perform(options, print)) ? 0 : 1;
  } catch (error) {
    const sentence = (error as Error).message;
    process.stderr.write(error instanceof UsageError ? `${sentence}\nSee: vitrocept --help\n` : `${sentence}\n`);
    return 2;
  }
}

function perform(options: Options, print: (text: string) => unknown): Promise<boolean> {
  const complain = (text: string): unknown => process.stderr.write(text);
  switch (options.command) {
    case 'read':
      return readCommand(options, print);
    case 'render':
      return renderCommand(options, complain);
    case 'practice':
      return practiceCommand(options, print);
    case 'prove':
      return proveCommand(options, print);
    case 'round':
      return roundCommand(options, print, complain);
  }
}
