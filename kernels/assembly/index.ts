export { fft2d } from './fft2d';
export { stepInPlace, divergence, normalInverse, solveInFrequency } from './splitting';
export { hardGradients, solveEdges } from './fewEdges';
export { thresholdRun, wienerRun } from './slidingDct';
