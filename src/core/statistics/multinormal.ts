import { CholeskyDecomposition, Matrix } from 'ml-matrix';
import { fillNormals, type Random } from './random.ts';

/** Cholesky's factor; what rounding left unlike on both sides of the diagonal is evened out. */
export const lowerOf = (m: Matrix) =>
  new CholeskyDecomposition(Matrix.mul(Matrix.add(m, m.transpose()), 0.5)).lowerTriangularMatrix;

/** L x = b, L lower triangular. */
export function forward(lower: Matrix, b: ArrayLike<number>): number[] {
  const x: number[] = [];
  for (let i = 0; i < b.length; i++) {
    let v = b[i]!;
    for (let j = 0; j < i; j++) v -= lower.get(i, j) * x[j]!;
    x.push(v / lower.get(i, i));
  }
  return x;
}

/** Lᵀ x = b. */
export function backward(lower: Matrix, b: readonly number[]): number[] {
  const x = [...b];
  for (let i = b.length - 1; i >= 0; i--) {
    for (let j = i + 1; j < b.length; j++) x[i]! -= lower.get(j, i) * x[j]!;
    x[i]! /= lower.get(i, i);
  }
  return x;
}

/** A normal of several dimensions: a draw, and the logarithm of its density. */
export type Multinormal = {
  draw(this: void, random: Random): Float64Array;
  log(this: void, z: ArrayLike<number>): number;
};

/** @param covariance positive definite @throws Error where it is not */
export function multinormal(mean: readonly number[], covariance: readonly (readonly number[])[]): Multinormal {
  const n = mean.length;
  const lower = lowerOf(new Matrix(covariance.map((row) => [...row])));
  let logDet = 0;
  for (let i = 0; i < n; i++) logDet += Math.log(lower.get(i, i));
  return {
    draw(random) {
      const e = new Float64Array(n);
      fillNormals(random, e);
      return Float64Array.from({ length: n }, (_, i) => {
        let v = mean[i]!;
        for (let j = 0; j <= i; j++) v += lower.get(i, j) * e[j]!;
        return v;
      });
    },
    log(z) {
      const off = forward(
        lower,
        mean.map((m, i) => z[i]! - m),
      );
      return -0.5 * off.reduce((sum, v) => sum + v * v, 0) - logDet - (n / 2) * Math.log(2 * Math.PI);
    },
  };
}
