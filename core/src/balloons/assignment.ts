/**
 * The cheapest way to give every row a column of its own: for each row its column. Rows are added one at a time, each
 * along a shortest path of exchanges: rows² · columns steps at most.
 * Source: R. Jonker, A. Volgenant, "A shortest augmenting path algorithm for dense and sparse linear assignment problems",
 * Computing 38 (1987), its augmenting phase.
 * @param costs row by row; finite
 * @param columns at least as many as rows
 */
export function cheapestAssignment(costs: Float64Array, rows: number, columns: number): Int32Array {
  // Column 0 stands for the row that is being added; rows and columns are counted from 1.
  const rowPrice = new Float64Array(rows + 1),
    columnPrice = new Float64Array(columns + 1);
  const rowOf = new Int32Array(columns + 1),
    before = new Int32Array(columns + 1);
  const least = new Float64Array(columns + 1),
    isDone = new Uint8Array(columns + 1);
  for (let row = 1; row <= rows; row++) {
    rowOf[0] = row;
    least.fill(Infinity);
    isDone.fill(0);
    let column = 0;
    do {
      isDone[column] = 1;
      const from = rowOf[column];
      let step = Infinity,
        next = 0;
      for (let to = 1; to <= columns; to++) {
        if (isDone[to]) continue;
        const cost = costs[(from - 1) * columns + to - 1] - rowPrice[from] - columnPrice[to];
        if (cost < least[to]) {
          least[to] = cost;
          before[to] = column;
        }
        if (least[to] < step) {
          step = least[to];
          next = to;
        }
      }
      for (let to = 0; to <= columns; to++)
        if (isDone[to]) {
          rowPrice[rowOf[to]] += step;
          columnPrice[to] -= step;
        } else least[to] -= step;
      column = next;
    } while (rowOf[column] !== 0);
    for (; column !== 0; column = before[column]) rowOf[column] = rowOf[before[column]];
  }
  const columnOf = new Int32Array(rows);
  for (let column = 1; column <= columns; column++) if (rowOf[column] > 0) columnOf[rowOf[column] - 1] = column - 1;
  return columnOf;
}
