/** The weight at a share of the radius, as the core has it: 1 − (3t² − 2t³)^p with p = 4^(2·fullness − 1). */
export function weightAt(t: number, fullness: number): number {
  return 1 - (3 * t * t - 2 * t * t * t) ** (4 ** (2 * fullness - 1));
}

/** The share of the radius at which the weight is so much. */
export function shareAt(weight: number, fullness: number): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < 24; i++) {
    const t = (low + high) / 2;
    if (weightAt(t, fullness) > weight) low = t;
    else high = t;
  }
  return low;
}
