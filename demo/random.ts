/** Roughly normal, mean 0 and spread 1. */
export function bell(random: () => number): number {
  return (random() + random() + random() + random() - 2) * Math.sqrt(3);
}
