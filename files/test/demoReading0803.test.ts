import { holdReading } from './demoReading';

holdReading('0803');
