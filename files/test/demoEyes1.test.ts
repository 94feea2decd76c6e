import { holdEyes } from './demoEyes';

holdEyes(['0411', '0412', '0413', '0415']);
