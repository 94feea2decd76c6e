import { holdEyes } from './demoEyes';

// Of the twelve those of unlike causes; all of them: `npm run bench -- demo`.
holdEyes(['0412', '0413']);
