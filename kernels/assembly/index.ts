export { fft2d } from './fft2d';
export { stepInPlace, divergence, normalInverse, solveInFrequency } from './splitting';
export { hardGradients, solveEdges } from './fewEdges';
export { transformRows, cutBlocks, shrinkBlocks, spreadRows } from './slidingDct';
