import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bin, ROOT, run } from './setup.mjs';

const COMMITTED = join(ROOT, 'kernels', 'wasm', 'kernels.wasm');
const isCheck = process.argv.includes('--check');
const folder = mkdtempSync(join(tmpdir(), 'kernels-'));
const target = isCheck ? join(folder, 'kernels.wasm') : COMMITTED;
run(bin('asc'), [
  'kernels/assembly/index.ts',
  '-o',
  target,
  '-O3',
  '--noAssert',
  '--runtime',
  'stub',
  '--enable',
  'simd',
  '--initialMemory',
  '1',
]);
const isSame = readFileSync(target).equals(readFileSync(COMMITTED));
rmSync(folder, { recursive: true });
if (!isSame) {
  console.error('kernels/wasm/kernels.wasm is not what kernels/assembly builds to. Run: npm run kernels');
  process.exit(1);
}
