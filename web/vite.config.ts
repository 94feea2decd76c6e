import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { viteStaticCopy } from 'vite-plugin-static-copy';

/** The model that finds faces and what it runs on are served from our own address, beside the page. */
const faces = [
  '../node_modules/@vladmandic/human/models/{blazeface,facemesh,iris}.{json,bin}',
  '../node_modules/@tensorflow/tfjs-backend-wasm/dist/tfjs-backend-wasm{,-simd}.wasm',
].map((src) => ({ src, dest: 'faces' }));

export default defineConfig({
  plugins: [react(), viteStaticCopy({ targets: faces, silent: true })],
  worker: { format: 'es' },
  build: { target: 'es2022', assetsInlineLimit: 0, chunkSizeWarningLimit: 1200 },
});
