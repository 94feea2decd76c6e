import { quality } from './quality';

const [command, pattern] = process.argv.slice(2);
if (command === 'quality') await quality(pattern ? new RegExp(pattern) : null);
else {
  console.error('Usage: npm run bench -- quality [PATTERN]');
  process.exitCode = 2;
}
