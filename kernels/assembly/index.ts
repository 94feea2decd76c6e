export { fft2d } from './fft2d';
export { addGradient, shrinkGradients, explainData, divergence, normalInverse, solveInFrequency } from './splitting';
export { hardGradients, solveEdges } from './fewEdges';
export { thresholdRun } from './slidingDct';
