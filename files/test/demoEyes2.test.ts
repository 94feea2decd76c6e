import { holdEyes } from './demoEyes';

holdEyes(['0418', '0533', '0536', '0701']);
