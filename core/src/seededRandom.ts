/** Repeatable random numbers: the same seed gives the same sequence on every machine. */
export interface SeededRandom {
  /** Even over [0, 1). */
  uniform(): number;
  /** Normal with mean 0 and variance 1. */
  normal(): number;
}

/**
 * Source: Marsaglia, "Xorshift RNGs", Journal of Statistical Software 8 (2003), the 32-bit shifts 13, 17, 5; Box &
 * Muller, Annals of Mathematical Statistics 29 (1958).
 */
export function seededRandom(seed: number): SeededRandom {
  let state = (Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ 0x6d2b79f5) | 0 || 1;
  let spare: number | null = null;
  const uniform = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 4294967296;
  };
  for (let i = 0; i < 8; i++) uniform();
  const normal = () => {
    if (spare !== null) {
      const value = spare;
      spare = null;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - uniform()));
    const angle = 2 * Math.PI * uniform();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
  return { uniform, normal };
}
