export { createKernels } from './kernels';
