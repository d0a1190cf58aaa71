// npm run kernels: compiles the hot loops where they changed.
import { buildKernels, install } from './prepare.mjs';

install();
buildKernels();
