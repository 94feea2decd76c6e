import { holdEyes } from './demoEyes';

holdEyes(['0703', '0704', '0801', '0803']);
