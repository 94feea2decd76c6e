export { fft2d } from './fft2d';
export { shrinkGradients, explainData, divergence, normalInverse, solveInFrequency } from './splitting';
