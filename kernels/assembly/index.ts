export { fft2d } from './fft2d';
export { rowsToSpectra, prepareSolving, solveColumns, spectraToRows } from './halfSpectra';
export { sweepRows, divergence } from './splitting';
export { hardGradients, solveEdges } from './fewEdges';
export { transformRows, cutBlocks, shrinkBlocks, spreadRows } from './slidingDct';
