/** The 1, 2 or 5 times a power of ten that is nearest to a step; 0.1 where there is none. */
export function roundStep(step: number): number {
  if (!(step > 0) || !Number.isFinite(step)) return 0.1;
  const power = 10 ** Math.floor(Math.log10(step));
  const nearest = [1, 2, 5, 10].reduce((best, n) =>
    Math.abs(n * power - step) < Math.abs(best * power - step) ? n : best,
  );
  return Number((nearest * power).toPrecision(6));
}
