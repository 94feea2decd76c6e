export { fft2d } from './fft2d';
export {
  rowsToSpectra, prepareSolving, solveColumns, filterColumns, spectraToRows, rowsToSpectrum, spectrumToRows,
} from './halfSpectra';
export { sweepRows, divergence } from './splitting';
export { curveSums } from './curveSums';
export { spectralSums } from './spectralSums';
export { hardGradients, prepareEdges, solveEdges } from './fewEdges';
export { cleanRun, overShares } from './slidingDct';
export { smoothAcross, smoothDown, meansAcross, meansDown, leastOfTwo, mostOfTwo, squaredImmerkaer } from './filters';
export { product, guidedSlopes, guidedSum } from './guidedFilter';
export { demosaicTile } from './demosaic';
export { drawnOver } from './drawnOver';
export { codesOf } from './codes';
export { sumsAcross } from './sumsAcross';
export { convolve3x3, repeatEnds } from './network';
export { solveDown, stretchDown, turnOver } from './onGrid';
export { lit, mixes, blendOver, addByTone, holdAbove, squaredRatio, sharesOfWeights, rooted, lookedUp, logLight } from './planes';
