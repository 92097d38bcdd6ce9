declare module 'jstat' {
  /** What is used of it: Student's distribution. */
  export const jStat: {
    readonly studentt: {
      /** @param p probability below; @param dof degrees of freedom */
      inv(p: number, dof: number): number;
      cdf(t: number, dof: number): number;
    };
  };
}
