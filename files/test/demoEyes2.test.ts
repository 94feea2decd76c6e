import { holdEyes } from './demoEyes';

holdEyes(['0536', '0801']);
