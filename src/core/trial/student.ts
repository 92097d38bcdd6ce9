import statistics from 'jstat';

/** Student's t below which a share `p` lies. @param of degrees of freedom, more than 0 */
export const studentQuantile = (p: number, of: number): number => statistics.jStat.studentt.inv(p, of);
