import { fileURLToPath } from 'node:url';
import { buildApp } from './app';
import { loadDemoShoot } from './demoShoot';
import { openServices } from './openServices';
import { StartError } from './startError';

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const log = (line: string) => process.stderr.write(`${new Date().toISOString()} ${line}\n`);

function portOf(text: string | undefined): number {
  if (text === undefined || text === '') return 4317;
  const port = Number(text);
  if (!Number.isInteger(port) || port < 0 || port > 65535) {
    log(`PORT must be a whole number from 0 to 65535, not “${text}”.`);
    process.exit(2);
  }
  return port;
}

/** Nothing that goes wrong aside ends the process: it is written down, and what was asked for has failed by itself. */
process.on('unhandledRejection', (reason) => log(`unhandled: ${(reason as Error)?.stack ?? String(reason)}`));

function opened() {
  try {
    return openServices(process.env.VITROCEPT_DATA || './data', log);
  } catch (error) {
    if (!(error instanceof StartError)) throw error;
    log(error.message);
    process.exit(2);
  }
}

const port = portOf(process.env.PORT);
const services = opened();
const app = await buildApp(services, here('../../web/dist'));

let ending = false;
async function end(): Promise<void> {
  if (ending) return;
  ending = true;
  await app.close();
  await services.close();
  process.exit(0);
}
process.on('SIGINT', () => void end());
process.on('SIGTERM', () => void end());
process.on('SIGHUP', () => void end());
// Started by scripts/start.mjs: when that ends in whatever way, so does this.
process.on('disconnect', () => void end());

try {
  await app.listen({ host: '127.0.0.1', port });
} catch (error) {
  const { code, message } = error as NodeJS.ErrnoException;
  log(code === 'EADDRINUSE' ? `Port ${port} is in use. Choose another: PORT=4400 npm start` : message);
  process.exit(1);
}
const address = app.server.address();
process.stdout.write(
  `Vitrocept is ready: http://127.0.0.1:${typeof address === 'object' && address ? address.port : port}\n`,
);
await loadDemoShoot(services, process.env.VITROCEPT_DEMO || here('../../demo/frames')).catch((error: Error) =>
  log(`demo shoot: ${error.message}`),
);
await services.handOffs.renew();
services.readings.wake();
services.renders.wake();
services.rounds.wake();
