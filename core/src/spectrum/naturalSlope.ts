/** Natural pictures lose power by this exponent of frequency. */
export const NATURAL_SLOPE = 2.1;
