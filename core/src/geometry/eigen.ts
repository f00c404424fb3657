/**
 * Eigenvalues of a symmetric matrix, least first, and the unit eigenvector of each. By Jacobi rotations: small, and exact
 * to round-off. Source: G. Golub, C. Van Loan, "Matrix Computations", 4th edition 2013, section 8.5.
 * @param matrix square; not mutated
 */
export function symmetricEigen(matrix: readonly (readonly number[])[]): { values: number[]; vectors: number[][] } {
  const size = matrix.length;
  const a = matrix.map((row) => [...row]);
  const v = a.map((_, row) => a.map((__, column) => (row === column ? 1 : 0)));
  const MOST_SWEEPS = 32; // quadratic convergence: a handful do
  for (let sweep = 0; sweep < MOST_SWEEPS; sweep++) {
    let off = 0,
      all = 0;
    for (let i = 0; i < size; i++)
      for (let j = 0; j < size; j++) {
        all += a[i][j] * a[i][j];
        if (i !== j) off += a[i][j] * a[i][j];
      }
    if (off <= 1e-30 * all) break;
    for (let p = 0; p < size; p++) for (let q = p + 1; q < size; q++) rotate(a, v, p, q);
  }
  const order = a.map((_, at) => at).sort((one, other) => a[one][one] - a[other][other]);
  return { values: order.map((at) => a[at][at]), vectors: order.map((at) => v.map((row) => row[at])) };
}

/** One Jacobi rotation that makes a[p][q] zero. */
function rotate(a: number[][], v: number[][], p: number, q: number): void {
  if (a[p][q] === 0) return;
  const tau = (a[q][q] - a[p][p]) / (2 * a[p][q]);
  const t = Math.sign(tau || 1) / (Math.abs(tau) + Math.sqrt(1 + tau * tau));
  const c = 1 / Math.sqrt(1 + t * t),
    s = t * c;
  for (let k = 0; k < a.length; k++) {
    const kp = a[k][p],
      kq = a[k][q];
    a[k][p] = c * kp - s * kq;
    a[k][q] = s * kp + c * kq;
  }
  for (let k = 0; k < a.length; k++) {
    const pk = a[p][k],
      qk = a[q][k];
    a[p][k] = c * pk - s * qk;
    a[q][k] = s * pk + c * qk;
  }
  for (let k = 0; k < a.length; k++) {
    const kp = v[k][p],
      kq = v[k][q];
    v[k][p] = c * kp - s * kq;
    v[k][q] = s * kp + c * kq;
  }
}
