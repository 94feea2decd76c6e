import { buildPrograms } from './build.mjs';

/**
 * Tests that start a server, a command or the server's threads start what was built: from source each takes seconds.
 */
export const setup = buildPrograms;
