import { parseArgs } from 'node:util';
import { auditRates } from './auditRates';
import { brushTimes } from './brushTimes';
import { crops } from './crops';
import { demoTable } from './demoTable';
import { candidates } from './elsewhere/candidates';
import { elsewhere } from './elsewhere/elsewhere';
import { exportCases, solvePairs } from './exportCases';
import { finishTimes } from './finishTimes';
import { sliderTimes } from './sliderTimes';
import { loopRates } from './loopRates';
import { maskRates } from './maskRates';
import { noiseRates } from './noise';
import { quality } from './quality';
import { rawGain } from './rawGain';
import { shootTimes } from './shootTimes';
import { speed } from './speed';
import { textureCrops } from './textureCrops';
import { turning } from './turning';
import { waits } from './waits';
import { wallTimes } from './wallTimes';

const { values, positionals } = parseArgs({
  args: process.argv.slice(2),
  allowPositionals: true,
  options: {
    json: { type: 'string' },
    write: { type: 'boolean' },
    told: { type: 'boolean' },
    masked: { type: 'boolean' },
    round: { type: 'string' },
  },
});
const [command, pattern] = positionals;
if (command === undefined) await speed(values.json ?? null);
else if (command === 'quality') await quality(pattern ? new RegExp(pattern) : null);
else if (command === 'wall') await wallTimes();
else if (command === 'waits') await waits(pattern ?? null);
else if (command === 'shoot') await shootTimes(pattern ?? null);
else if (command === 'finish') await finishTimes();
else if (command === 'slider') await sliderTimes();
else if (command === 'raw') await rawGain();
else if (command === 'noise') await noiseRates();
else if (command === 'turning') await turning(pattern ? new RegExp(pattern) : null);
else if (command === 'crops') await crops();
else if (command === 'texture') await textureCrops();
else if (command === 'demo') await demoTable(pattern ?? '', values.write === true);
else if (command === 'elsewhere') {
  const [, part = 'choose', only] = positionals;
  const { told = false, masked = false, json } = values;
  await elsewhere(part, { only, told, masked, round: Number(values.round ?? 0), json });
} else if (command === 'candidates') {
  await candidates(pattern ?? 'tune', Number(values.round ?? 0), values.json ?? 'candidates.json');
} else if (command === 'solve') await solvePairs(pattern ?? 'pairs', positionals[2] ? Number(positionals[2]) : null);
else if (command === 'export') await exportCases(pattern ?? 'cases', null);
else if (command === 'audit') await auditRates(pattern ? new RegExp(pattern) : null);
else if (command === 'mask') {
  await maskRates(pattern ? new RegExp(pattern) : null);
  await loopRates(pattern ? new RegExp(pattern) : null);
  await brushTimes();
} else {
  console.error(
    'Usage: npm run bench [-- --json FILE], npm run bench -- quality [PATTERN], npm run bench -- audit [PATTERN], npm run bench -- mask [PATTERN], npm run bench -- noise, npm run bench -- wall, npm run bench -- waits [raw], npm run bench -- shoot [sorted|round|large], npm run bench -- finish, npm run bench -- slider, npm run bench -- raw, npm run bench -- turning [PATTERN], npm run bench -- crops, npm run bench -- texture, npm run bench -- elsewhere tune|choose|report [PATTERN] [--told | --masked] [--round N], npm run bench -- candidates tune --json FILE, npm run bench -- export FOLDER, npm run bench -- solve FOLDER [0|1], or npm run bench -- demo [PATTERN] [--write]',
  );
  process.exitCode = 2;
}
