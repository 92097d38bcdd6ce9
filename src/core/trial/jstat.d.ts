declare module 'jstat' {
  /** What is used of it: Student's distribution. Its exports are those of CommonJS. */
  const statistics: {
    readonly jStat: {
      readonly studentt: {
        /** @param p probability below; @param dof degrees of freedom */
        inv(p: number, dof: number): number;
      };
    };
  };
  export default statistics;
}
